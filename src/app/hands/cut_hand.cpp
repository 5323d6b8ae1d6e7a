#include "app/hands/cut_hand.h"

#include <QHBoxLayout>
#include <QPushButton>

#include "app/controls/labels.h"
#include "core/document/edits/place_stamp.h"
#include "core/surface/skin_cut.h"

namespace juvenor::app {

CutHand::CutHand(Session& session) : session_(session), controls_(new HandControls("cut bar")) {
  controls_->row().addWidget(quietLabel(tr("Drag from one place to another")));
  around_ = controls_->addSwitch("cut around", tr("All around"),
                                 tr("The line goes on around the form until it closes"));
}

bool CutHand::press(const Viewing& viewing, const Vec2& pixel) {
  const auto probe = session_.engine().probe(session_.document(), pixel);
  if (!probe) {
    session_.say(tr("A cut line begins on the skin."));
    return true;
  }
  from_ = probe->point;
  viewing_ = viewing;
  start_ = end_ = pixel;
  return true;
}

void CutHand::drag(const Viewing&, const Vec2& pixel) {
  end_ = pixel;
}

void CutHand::release() {
  if (!from_) return;
  const SurfacePoint from = *from_;
  from_.reset();
  if ((end_ - start_).norm() < 4) return;
  const Ray a = rayThrough(viewing_.camera, viewing_.size, start_),
            b = rayThrough(viewing_.camera, viewing_.size, end_);
  CutPlane plane;
  // through the eye and both pixels; seen in parallel along the view
  const Vec3 across = (b.origin + b.direction) - (a.origin + a.direction);
  plane.normal = normalizedOr(across.cross(a.direction + b.direction), Vec3::UnitX());
  plane.offset = plane.normal.dot(from.position);
  const auto probe = session_.engine().probe(session_.document(), end_);
  // off the skin the line goes as far as it comes
  const Vec3 to = probe ? probe->point.position
                        : Vec3(b.origin + b.direction * (from.position - b.origin).dot(b.direction));
  StrokeSetting setting = session_.strokeSetting(false);
  setting.activePart = from.part;
  const bool around = around_->isChecked();
  session_.edit(around ? tr("Line around") : tr("Cut line"),
                [=](const Document& d, const Progress&) -> Result<Document> {
                  const SkinCut cut = cutThrough(*d.surface, plane, from.part, from.position);
                  const SkinCut line =
                      around ? roundFrom(cut, from.position) : stretchOf(cut, from.position, to);
                  Flood flood;
                  return withStrokeAlong(d, setting, line.points, 1, flood);
                });
}

void CutHand::draw(QPainter& painter, const Viewing&, double scale) const {
  if (!from_) return;
  drawOutline(painter, {QPointF(start_.x(), start_.y()) / scale, QPointF(end_.x(), end_.y()) / scale}, true);
  drawGrip(painter, QPointF(start_.x(), start_.y()) / scale, false);
}

}  // namespace juvenor::app

#include "moc_cut_hand.cpp"
