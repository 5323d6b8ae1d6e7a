#include "app/hands/easel_hand.h"

namespace juvenor::app {

void drawGrip(QPainter& painter, const QPointF& at, bool chosen) {
  const double radius = chosen ? 7 : 5.5;
  painter.setBrush(QColor(60, 60, 60));
  painter.setPen(QPen(QColor(20, 20, 20, 170), 4));
  painter.drawEllipse(at, radius, radius);
  painter.setPen(QPen(Qt::white, 1.6));
  painter.drawEllipse(at, radius, radius);
}

void drawDot(QPainter& painter, const QPointF& at) {
  painter.setBrush(Qt::white);
  painter.setPen(QPen(QColor(20, 20, 20, 170), 1.5));
  painter.drawEllipse(at, 3, 3);
}

void drawPlate(QPainter& painter, const QPointF& at, const QString& words) {
  if (words.isEmpty()) return;
  const QRectF plate(at - QPointF(0, 10), QSizeF(painter.fontMetrics().horizontalAdvance(words) + 12, 20));
  painter.setPen(Qt::NoPen);
  painter.setBrush(QColor(30, 30, 30, 190));
  painter.drawRoundedRect(plate, 3, 3);
  painter.setPen(Qt::white);
  painter.drawText(plate, Qt::AlignCenter, words);
}

Vec2 pixelOf(const Viewing& viewing, const Vec3& place) {
  return project(viewing.camera, viewing.size, place).head<2>();
}

void drawOutline(QPainter& painter, const QPolygonF& line, bool dashed) {
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(QColor(20, 20, 20, 150), 3));
  painter.drawPolyline(line);
  QPen light(QColor(255, 255, 255, 235), 1.3);
  if (dashed) light.setDashPattern({5, 4});
  painter.setPen(light);
  painter.drawPolyline(line);
}

}  // namespace juvenor::app
