#include "app/hands/eye_hand.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <cmath>
#include <numbers>

#include "app/controls/labels.h"
#include "app/style/style.h"
#include "core/document/edits/edit_eyes.h"
#include "core/document/edits/edits.h"
#include "core/layers/sources/eye_look.h"

namespace juvenor::app {
namespace {

constexpr float kReach = 11;  // pixels around a grip that belong to it
// Corners of a drawn pupil beyond which none are put between them by hand.
constexpr size_t kMostPulled = 32;

// A place of a ball as seen from the front: so far from the middle, at an angle.
Vec3 onBall(const EyeBall& ball, const EyeLook& look, float away, float angle) {
  const float part = std::min(0.98f, away / ball.radius);
  const Vec3 flat = std::cos(angle) * look.right() + std::sin(angle) * look.up();
  return ball.center + ball.radius * (part * flat + std::sqrt(1 - part * part) * ball.look);
}

// One as seen from the front, scene units.
Vec3 onBall(const EyeBall& ball, const EyeLook& look, const Vec2& across) {
  return onBall(ball, look, across.norm(), std::atan2(across.y(), across.x()));
}

// Where a ray meets a ball first, or passes nearest to it.
Vec3 metOn(const EyeBall& ball, const Ray& ray) {
  const Vec3 way = ray.direction.normalized(), to = ball.center - ray.origin;
  const float along = to.dot(way), off2 = to.squaredNorm() - along * along,
              half2 = ball.radius * ball.radius - off2;
  return half2 > 0 ? Vec3(ray.origin + (along - std::sqrt(half2)) * way) : Vec3(ray.origin + along * way);
}

constexpr float kUp = std::numbers::pi_v<float> / 2;

}  // namespace

EyeHand::EyeHand(Session& session) : session_(session), controls_(new HandControls("eye bar")) {
  says_ = quietLabel({});
  says_->setWordWrap(false);
  controls_->row().addWidget(says_);
  both_ = controls_->addSwitch("eye both", tr("Both"),
                               tr("Sets and turns the eye of the other side too; each keeps its own seed"));
  both_->setChecked(true);
  remove_ = controls_->addButton("eye remove", tr("Remove"), tr("Takes the chosen eye away"));
  connect(remove_, &QPushButton::clicked, this, [this] {
    if (!eyes() || chosen_ >= eyes()->balls.size()) return;
    session_.settleStrokes();
    session_.apply(withoutEye(session_.document(), session_.document().activeLayer, chosen_),
                   tr("Remove eye"));
  });
  connect(&session_, &Session::documentChanged, this, &EyeHand::refresh);
}

const Eyes* EyeHand::eyes() const {
  if (!session_.isOpen()) return nullptr;
  const LayerPointer layer = layerOf(session_.document(), session_.document().activeLayer);
  return layer ? eyesOf(*layer->source) : nullptr;
}

const Eyes* EyeHand::shown() const {
  return held_ ? &dragged_ : eyes();
}

void EyeHand::refresh() {
  const Eyes* now = eyes();
  const size_t count = now ? now->balls.size() : 0;
  chosen_ = std::min(chosen_, count > 0 ? count - 1 : 0);
  remove_->setEnabled(count > 0);
  says_->setText(count == 0                        ? tr("Press on an eyeball, where it is to look")
                 : now->shape == PupilShape::Drawn ? tr("Drag: look · iris · pupil · its outline")
                                                   : tr("Drag: look · iris · pupil"));
}

std::vector<EyeHand::Handle> EyeHand::handles(const Viewing& viewing) const {
  std::vector<Handle> out;
  const Eyes* now = shown();
  for (size_t b = 0; now && b < now->balls.size(); ++b) {
    const EyeBall& ball = now->balls[b];
    const EyeLook look(*now, ball);
    const auto add = [&](Grip grip, const Vec3& place, size_t corner = 0) {
      const Vec3 outward = place - ball.center;
      if (outward.dot(toViewer(viewing.camera, place)) > 0)
        out.push_back({b, grip, pixelOf(viewing, place), corner});
    };
    add(Grip::Look, onBall(ball, look, 0, 0));
    if (b != chosen_) continue;
    add(Grip::Iris, onBall(ball, look, now->iris, 0));
    add(Grip::Pupil, onBall(ball, look, now->pupil, kUp));
    if (now->shape != PupilShape::Drawn) continue;
    for (size_t i = 0; i < now->outline.size(); ++i) {
      const Vec2 &corner = now->outline[i], &next = now->outline[(i + 1) % now->outline.size()];
      add(Grip::Corner, onBall(ball, look, look.pupilMiddle() + now->pupil * corner), i);
      if (now->outline.size() < kMostPulled)
        add(Grip::Side, onBall(ball, look, look.pupilMiddle() + 0.5f * now->pupil * (corner + next)), i);
    }
  }
  return out;
}

bool EyeHand::press(const Viewing& viewing, const Vec2& pixel) {
  session_.settleStrokes();
  held_.reset();
  for (const Handle& h : handles(viewing))
    if ((h.pixel - pixel).norm() < kReach &&
        (!held_ || (h.pixel - pixel).norm() < (held_->pixel - pixel).norm()))
      held_ = h;
  if (!held_) {
    setAt(viewing, pixel);
    return true;
  }
  chosen_ = held_->ball;
  moved_ = false;
  before_ = dragged_ = *eyes();
  return true;
}

void EyeHand::setAt(const Viewing&, const Vec2& pixel) {
  const auto probe = session_.engine().probe(session_.document(), pixel);
  if (!probe) return;
  const uint32_t layer = session_.document().activeLayer, part = probe->point.part;
  const Vec3 place = probe->point.position;
  const bool both = both_->isChecked();
  session_.edit(tr("Set eye"),
                [=](const Document& d, const Progress&) { return withEyeAt(d, layer, place, part, both); });
}

void EyeHand::drag(const Viewing& viewing, const Vec2& pixel) {
  if (!held_ || !eyes()) return;
  moved_ = true;
  dragged_ = before_;
  EyeBall& ball = dragged_.balls[held_->ball];
  const Vec3 place = metOn(ball, rayThrough(viewing.camera, viewing.size, pixel));
  if (held_->grip == Grip::Look) {
    const Vec3 look = normalizedOr(place - ball.center, ball.look);
    const Eigen::Quaternionf turn = turnBetween<float>(ball.look, look);
    for (size_t b = 0; b < dragged_.balls.size(); ++b)
      if (b == held_->ball || both_->isChecked())
        dragged_.balls[b].look = (turn * before_.balls[b].look).normalized();
  } else if (held_->grip == Grip::Corner || held_->grip == Grip::Side) {
    pullOutline(place);
  } else {
    const Vec3 way = place - ball.center;
    const float away = (way - way.dot(ball.look) * ball.look).norm();
    if (held_->grip == Grip::Iris)
      dragged_.iris = std::clamp(away, 0.05f * ball.radius, 0.96f * ball.radius);
    else
      dragged_.pupil = std::clamp(away, 0.02f * ball.radius, 0.9f * dragged_.iris);
  }
  auto next = withSource(session_.document(), session_.document().activeLayer, eyeSource(dragged_));
  if (next) session_.preview(*next);
}

// A corner goes where the pen is; a side gets one there.
void EyeHand::pullOutline(const Vec3& place) {
  const EyeLook look(dragged_, dragged_.balls[held_->ball]);
  const Vec3 way = place - look.ball().center;
  const Vec2 at = (Vec2(way.dot(look.right()), way.dot(look.up())) - look.pupilMiddle()) / dragged_.pupil;
  const Vec2 near(std::clamp(at.x(), -4.f, 4.f), std::clamp(at.y(), -4.f, 4.f));
  auto& outline = dragged_.outline;
  if (held_->grip == Grip::Side)
    outline.insert(outline.begin() + static_cast<std::ptrdiff_t>(held_->corner) + 1, near);
  else
    outline[held_->corner] = near;
}

// A corner that was dropped on its neighbour is taken away.
void EyeHand::joinCorners() {
  auto& outline = dragged_.outline;
  if (held_->grip != Grip::Corner || outline.size() <= 3) return;
  const Vec2& at = outline[held_->corner];
  const size_t n = outline.size();
  const auto away = [&](size_t other) { return (outline[other % n] - at).norm(); };
  if (std::min(away(held_->corner + 1), away(held_->corner + n - 1)) < 0.12f)
    outline.erase(outline.begin() + static_cast<std::ptrdiff_t>(held_->corner));
}

void EyeHand::release() {
  if (!held_) return;
  const Grip grip = held_->grip;
  if (moved_) joinCorners();
  held_.reset();
  if (!moved_) return;
  const QString step = grip == Grip::Look ? tr("Turn eyes") : grip == Grip::Iris ? tr("Iris") : tr("Pupil");
  if (!session_.apply(withSource(session_.document(), session_.document().activeLayer, eyeSource(dragged_)),
                      step))
    session_.endPreview();
}

void EyeHand::breakOff() {
  held_.reset();
  session_.endPreview();
}

void EyeHand::draw(QPainter& painter, const Viewing& viewing, double scale) const {
  const Eyes* now = shown();
  if (!now) return;
  const auto at = [&](const Vec3& place) {
    const Vec2 p = pixelOf(viewing, place);
    return QPointF(p.x(), p.y()) / scale;
  };
  painter.setBrush(Qt::NoBrush);
  if (chosen_ < now->balls.size()) {
    const EyeBall& ball = now->balls[chosen_];
    const EyeLook look(*now, ball);
    if (now->shape == PupilShape::Drawn) {
      QPolygonF drawn;
      for (size_t i = 0; i <= now->outline.size(); ++i)
        drawn << at(
            onBall(ball, look, look.pupilMiddle() + now->pupil * now->outline[i % now->outline.size()]));
      if (ball.look.dot(toViewer(viewing.camera, ball.center)) > 0) drawOutline(painter, drawn);
    }
    for (const float radius : {now->iris, now->pupil}) {
      if (radius == now->pupil && now->shape == PupilShape::Drawn) continue;
      QPolygonF ring;
      for (int i = 0; i <= 48; ++i) {
        const Vec3 place = onBall(ball, look, radius, static_cast<float>(i) / 48 * 4 * kUp);
        if ((place - ball.center).dot(toViewer(viewing.camera, place)) > 0) ring << at(place);
      }
      drawOutline(painter, ring, true);
    }
  }
  for (const Handle& h : handles(viewing)) {
    const QPointF grip = QPointF(h.pixel.x(), h.pixel.y()) / scale;
    if (h.grip == Grip::Side)
      drawDot(painter, grip);
    else
      drawGrip(painter, grip, h.ball == chosen_ && h.grip != Grip::Corner);
  }
}

}  // namespace juvenor::app

#include "moc_eye_hand.cpp"
