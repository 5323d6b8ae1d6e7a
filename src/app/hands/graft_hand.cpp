#include "app/hands/graft_hand.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QHBoxLayout>
#include <QPushButton>
#include <algorithm>
#include <cmath>

#include "app/controls/value_slider.h"
#include "app/style/style.h"
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/lay_graft.h"
#include "core/graft/graft_file.h"

namespace juvenor::app {
namespace {

constexpr float kLeastGraftDrag = 6;  // pixels

// "Graft 7.exr": the first number that is free in the box.
std::filesystem::path freeName() {
  std::error_code ec;
  for (int i = 1;; ++i) {
    const auto path = graftFolder() / QObject::tr("Graft %1.exr").arg(i).toStdString();
    if (!std::filesystem::exists(path, ec)) return path;
  }
}

Vec3 tangentAt(const Vec3& direction, const Vec3& normal) {
  return normalizedOr(direction - normal * normal.dot(direction), normal.unitOrthogonal());
}

}  // namespace

GraftHand::GraftHand(Session& session) : session_(session), controls_(new HandControls("graft bar", 6)) {
  shapes_ = new QButtonGroup(this);
  const QStringList names{tr("Rectangle"), tr("Strip"), tr("Lasso")};
  const QStringList tips{tr("Drag from the middle to a corner"),
                         tr("Drag along the skin; it is as wide as the brush"),
                         tr("Drag around what is to be taken")};
  for (int i = 0; i < 3; ++i)
    shapes_->addButton(controls_->addSwitch("graft " + names[i], names[i], tips[i]), i);
  shapes_->button(0)->setChecked(true);
  pixels_ = new QComboBox;
  pixels_->setObjectName("graft pixels");
  pixels_->setFocusPolicy(Qt::NoFocus);
  pixels_->setToolTip(tr("How fine it is taken: pixels along its longer side"));
  for (int pixels = kLeastGraft; pixels <= kLargestGraft; pixels *= 2)
    pixels_->addItem(tr("%1 px").arg(pixels), pixels);
  pixels_->setCurrentIndex(3);
  controls_->row().addWidget(pixels_);
  cut_ = new ValueSlider(tr("Relief under"), {0.2, 60, 1, "mm", true, 1});
  cut_->setObjectName("graft cut");
  cut_->setToolTip(tr("Relief that is broader stays behind: the form it lies on is no part of a graft"));
  cut_->setFixedWidth(130);
  cut_->show(6);
  controls_->row().addWidget(cut_);
  form_ = controls_->addSwitch("graft form", tr("Form"),
                               tr("What is sculpted there counts as relief too, not paint alone"));
  difference_ = controls_->addSwitch("graft difference", tr("Since checkpoint"),
                                     tr("Only what was changed since the chosen checkpoint"));
  until_ = new QComboBox;
  until_->setObjectName("graft until");
  until_->setFocusPolicy(Qt::NoFocus);
  until_->setToolTip(tr("Up to the work as it is now, or to another checkpoint"));
  until_->setMaximumWidth(120);
  controls_->row().addWidget(until_);
  connect(difference_, &QPushButton::toggled, until_, &QComboBox::setEnabled);
  connect(&session_, &Session::documentChanged, this, [this] {
    difference_->setEnabled(!session_.document().checkpoints.empty());
    if (!difference_->isEnabled()) difference_->setChecked(false);
    listCheckpoints();
  });
  connect(&session_, &Session::opened, this, [this] { way_.clear(); });
}

// Those a graft may be taken up to; by themselves they say nothing where there is but one.
void GraftHand::listCheckpoints() {
  const std::vector<Checkpoint>& kept = session_.document().checkpoints;
  std::vector<std::pair<uint32_t, std::string>> now;
  for (const Checkpoint& c : kept) now.emplace_back(c.id, c.name);
  if (now == listed_ && until_->count() > 0) return;
  listed_ = std::move(now);
  const QVariant chosen = until_->currentData();
  until_->clear();
  until_->addItem(tr("until now"), 0);
  for (const Checkpoint& c : kept) until_->addItem(tr("until %1").arg(QString::fromStdString(c.name)), c.id);
  until_->setCurrentIndex(std::max(0, until_->findData(chosen)));
  until_->setEnabled(difference_->isChecked());
  until_->setVisible(kept.size() > 1);
}

GraftHand::Shape GraftHand::shape() const {
  return static_cast<Shape>(shapes_->checkedId());
}

bool GraftHand::press(const Viewing& viewing, const Vec2& pixel) {
  const auto probe = session_.engine().probe(session_.document(), pixel);
  if (!probe) {
    session_.say(tr("A graft is taken from skin: press on it."));
    return true;
  }
  viewing_ = viewing;
  way_ = {probe->point};
  seen_ = {pixel};
  return true;
}

void GraftHand::drag(const Viewing&, const Vec2& pixel) {
  if (way_.empty()) return;
  if (shape() == Shape::Rectangle) {
    seen_.resize(1);
    seen_.push_back(pixel);
    return;
  }
  if ((pixel - seen_.back()).norm() < kLeastGraftDrag) return;
  const auto probe = session_.engine().probe(session_.document(), pixel);
  // of the part it began on alone: a lip before a tooth
  if (!probe || probe->point.part != way_.front().part) return;
  way_.push_back(probe->point);
  seen_.push_back(pixel);
}

std::optional<PatchShape> GraftHand::patch() const {
  const SurfacePoint& first = way_.front();
  const Vec3 along = tangentAt(viewing_.camera.right(), first.normal);
  if (shape() == Shape::Rectangle) {
    if (seen_.size() < 2) return std::nullopt;
    // where the pen is on the plane of the skin in the middle
    const Ray ray = rayThrough(viewing_.camera, viewing_.size, seen_.back());
    const float facing = ray.direction.dot(first.normal);
    if (std::abs(facing) < 0.05f) return std::nullopt;
    const Vec3 away = ray.origin +
                      ray.direction * ((first.position - ray.origin).dot(first.normal) / facing) -
                      first.position;
    const Vec2 half(std::abs(away.dot(along)), std::abs(away.dot(first.normal.cross(along))));
    if (half.minCoeff() < 2 * session_.document().surface->spacing) return std::nullopt;
    return PatchRectangle{first, along, half};
  }
  if (shape() == Shape::Strip) {
    if (way_.size() < 3) return std::nullopt;
    PatchStrip out{{}, first.part, session_.tools().brush().radius};
    for (const SurfacePoint& p : way_) out.line.push_back(p.position);
    return out;
  }
  if (way_.size() < 4) return std::nullopt;
  return PatchLasso{way_, along};
}

GraftTake GraftHand::take() const {
  GraftTake out;
  out.millimetres = session_.document().placement.millimetres;
  out.pixels = pixels_->currentData().toInt();
  out.cut = static_cast<float>(cut_->value()) / out.millimetres;
  out.form = form_->isChecked();
  return out;
}

void GraftHand::release() {
  if (way_.empty()) return;
  const auto shape = patch();
  way_.clear();
  if (!shape) return session_.say(tr("That is too small for a graft: drag farther."));
  if (session_.isBusy()) return;
  session_.settleStrokes();
  const auto made = std::make_shared<Graft>();
  const auto file = std::make_shared<std::filesystem::path>();
  const uint32_t checkpoint = !difference_->isChecked() ? 0
                              : checkpointOf(session_.document(), session_.tools().checkpoint())
                                  ? session_.tools().checkpoint()
                                  : session_.document().checkpoints.back().id;
  const uint32_t until = until_->currentData().toUInt();
  if (checkpoint != 0 && checkpoint == until)
    return session_.say(tr("Both are the same checkpoint: choose another under Past, or until when."), true);
  session_.background().start(
      tr("Taking a graft"),
      [d = session_.document(), shape = *shape, take = take(), checkpoint, until, made,
       file](const Progress& p) -> Outcome {
        const auto skin = checkpoint ? graftSkinBetween(d, checkpoint, until, p) : graftSkinOf(d, p);
        if (!skin) return skin.error();
        *file = freeName();
        auto graft = takenGraft(*d.surface, *skin, shape, take, file->stem().string(), p);
        if (!graft) return graft.error();
        *made = std::move(*graft);
        return writeGraft(*made, *file);
      },
      [this, made, file](const Outcome& done) {
        if (!done)
          return session_.say(isCancelled(done.error()) ? tr("Cancelled; nothing was taken.")
                                                        : QString::fromStdString(done.error().message()),
                              true);
        emit taken(QString::fromStdString(file->string()), *made);
        session_.say(tr("%1 lies in the box, and is in hand: press where it is to be laid.")
                         .arg(QString::fromStdString(made->name)));
      });
}

void GraftHand::draw(QPainter& painter, const Viewing& viewing, double scale) const {
  if (way_.empty()) return;
  QPolygonF line;
  const auto add = [&](const Vec3& place) {
    const Vec3 p = project(viewing.camera, viewing.size, place);
    line << QPointF(p.x(), p.y()) / scale;
  };
  if (shape() != Shape::Rectangle) {
    for (const SurfacePoint& p : way_) add(p.position);
    if (shape() == Shape::Lasso && line.size() > 2) line << line.front();
    return drawOutline(painter, line, true);
  }
  const auto now = patch();
  if (!now) return;
  const auto& r = std::get<PatchRectangle>(*now);
  const Vec3 up = r.at.normal.cross(r.along);
  for (const auto& [i, j] : {std::pair(-1.f, -1.f), {1.f, -1.f}, {1.f, 1.f}, {-1.f, 1.f}, {-1.f, -1.f}})
    add(r.at.position + i * r.half.x() * r.along + j * r.half.y() * up);
  drawOutline(painter, line, true);
  const float millimetres = session_.document().placement.millimetres;
  painter.setPen(Qt::white);
  painter.drawText(line[2] + QPointF(10, 4), tr("%1 × %2").arg(shortLength(2 * r.half.x(), millimetres),
                                                               shortLength(2 * r.half.y(), millimetres)));
}

}  // namespace juvenor::app

#include "moc_graft_hand.cpp"
