#include "app/hands/place_hand.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QPushButton>

#include "app/controls/labels.h"

namespace juvenor::app {

PlaceHand::PlaceHand(Session& session)
    : session_(session), controls_(new HandControls("place bar")), says_(quietLabel({})) {
  controls_->row().addWidget(says_);
  auto* done = controls_->addButton("place done", tr("Done"), tr("It stays as it is now (Esc)"));
  connect(done, &QPushButton::clicked, this, &PlaceHand::finish);
}

void PlaceHand::begin(const QString& says, const QString& missed, Placed placed,
                      std::function<std::optional<Vec3>()> mark) {
  placed_ = std::move(placed);
  mark_ = std::move(mark);
  missed_ = missed;
  dragging_ = false;
  says_->setText(says);
}

bool PlaceHand::place(const Viewing& viewing, const Vec2& pixel) {
  const auto probe = session_.engine().probe(session_.document(), pixel);
  if (!probe) return false;
  placed_(viewing, probe->point);
  return true;
}

bool PlaceHand::press(const Viewing& viewing, const Vec2& pixel) {
  if (!active()) return false;
  dragging_ = place(viewing, pixel);
  if (!dragging_) session_.say(missed_);
  return true;
}

void PlaceHand::drag(const Viewing& viewing, const Vec2& pixel) {
  if (active()) place(viewing, pixel);
}

void PlaceHand::draw(QPainter& painter, const Viewing& viewing, double scale) const {
  const std::optional<Vec3> at = mark_ ? mark_() : std::nullopt;
  if (!at) return;
  const Vec3 pixel = project(viewing.camera, viewing.size, *at);
  if (!(pixel.z() > 0)) return;
  const QPointF middle(pixel.x() / scale, pixel.y() / scale);
  for (const auto& [color, wide] :
       {std::pair(QColor(0x20, 0x20, 0x20), 4.0), std::pair(QColor(Qt::white), 1.6)}) {
    painter.setPen(QPen(color, wide));
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(middle, 9, 9);
    painter.drawLine(middle - QPointF(14, 0), middle - QPointF(5, 0));
    painter.drawLine(middle + QPointF(5, 0), middle + QPointF(14, 0));
  }
}

void PlaceHand::finish() {
  if (!active()) return;
  placed_ = nullptr;
  mark_ = nullptr;
  dragging_ = false;
  emit done();
}

}  // namespace juvenor::app

#include "moc_place_hand.cpp"
