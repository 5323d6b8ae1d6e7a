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

// A place of a ball as seen from the front: so far from the middle, at an angle.
Vec3 onBall(const EyeBall& ball, const EyeLook& look, float away, float angle) {
  const float part = std::min(0.98f, away / ball.radius);
  const Vec3 flat = std::cos(angle) * look.right() + std::sin(angle) * look.up();
  return ball.center + ball.radius * (part * flat + std::sqrt(1 - part * part) * ball.look);
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
  says_->setText(count == 0 ? tr("Press on an eyeball, where it is to look")
                            : tr("Drag: look · iris · pupil"));
}

std::vector<EyeHand::Handle> EyeHand::handles(const Viewing& viewing) const {
  std::vector<Handle> out;
  const Eyes* now = shown();
  for (size_t b = 0; now && b < now->balls.size(); ++b) {
    const EyeBall& ball = now->balls[b];
    const EyeLook look(*now, ball);
    const auto add = [&](Grip grip, const Vec3& place) {
      const Vec3 outward = place - ball.center;
      if (outward.dot(toViewer(viewing.camera, place)) > 0) out.push_back({b, grip, pixelOf(viewing, place)});
    };
    add(Grip::Look, onBall(ball, look, 0, 0));
    if (b != chosen_) continue;
    add(Grip::Iris, onBall(ball, look, now->iris, 0));
    add(Grip::Pupil, onBall(ball, look, now->pupil, kUp));
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

void EyeHand::release() {
  if (!held_) return;
  const Grip grip = held_->grip;
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
    for (const float radius : {now->iris, now->pupil}) {
      QPolygonF ring;
      for (int i = 0; i <= 48; ++i) {
        const Vec3 place = onBall(ball, look, radius, static_cast<float>(i) / 48 * 4 * kUp);
        if ((place - ball.center).dot(toViewer(viewing.camera, place)) > 0) ring << at(place);
      }
      drawOutline(painter, ring, true);
    }
  }
  for (const Handle& h : handles(viewing))
    drawGrip(painter, QPointF(h.pixel.x(), h.pixel.y()) / scale, h.ball == chosen_);
}

}  // namespace juvenor::app

#include "moc_eye_hand.cpp"
