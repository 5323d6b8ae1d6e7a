#include "app/mixer/color_plane.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "app/controls/spoken.h"
#include "app/style/style.h"

namespace juvenor::app {

ColorPlane::ColorPlane() {
  setFocusPolicy(Qt::StrongFocus);
  speak(this, {QAccessible::ColorChooser, [this] { return words(); }});
}

void ColorPlane::redraw() {
  image_ = {};
  update();
}

void ColorPlane::drawMark(QPainter& painter, const QPointF& at) const {
  painter.setPen(QPen(QColor(20, 20, 20, 180), 3.2));
  painter.drawEllipse(at, 6, 6);
  painter.setPen(QPen(Qt::white, 1.8));
  painter.drawEllipse(at, 6, 6);
}

void ColorPlane::paintEvent(QPaintEvent*) {
  if (image_.size() != size()) image_ = drawn();
  QPainter p(this);
  p.drawImage(0, 0, image_);
  p.setRenderHint(QPainter::Antialiasing);
  drawMark(p, {place().x() * width(), place().y() * height()});
  p.setBrush(Qt::NoBrush);
  if (hasFocus()) {
    p.setPen(QPen(look::kAccent, 2));
    p.drawRect(rect().adjusted(1, 1, -1, -1));
  }
}

void ColorPlane::mousePressEvent(QMouseEvent* event) {
  if (!(event->buttons() & Qt::LeftButton)) return;
  take({std::clamp(event->position().x() / width(), 0.0, 1.0),
        std::clamp(event->position().y() / height(), 0.0, 1.0)});
  update();
  tellValue(this);
}

void ColorPlane::keyPressEvent(QKeyEvent* event) {
  const int across = (event->key() == Qt::Key_Right) - (event->key() == Qt::Key_Left);
  const int down = (event->key() == Qt::Key_Down) - (event->key() == Qt::Key_Up);
  if (across == 0 && down == 0) return QWidget::keyPressEvent(event);
  // where there is one way to go, up is to the right
  const double x = step().y() == 0 ? across - down : across;
  take({std::clamp(place().x() + x * step().x(), 0.0, 1.0),
        std::clamp(place().y() + down * step().y(), 0.0, 1.0)});
  update();
  tellValue(this);
}

}  // namespace juvenor::app
