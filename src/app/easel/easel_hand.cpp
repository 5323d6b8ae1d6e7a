#include "app/easel/easel_hand.h"

namespace juvenor::app {

void drawGrip(QPainter& painter, const QPointF& at, bool chosen) {
  const double radius = chosen ? 7 : 5.5;
  painter.setBrush(QColor(60, 60, 60));
  painter.setPen(QPen(QColor(20, 20, 20, 170), 4));
  painter.drawEllipse(at, radius, radius);
  painter.setPen(QPen(Qt::white, 1.6));
  painter.drawEllipse(at, radius, radius);
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
