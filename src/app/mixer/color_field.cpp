#include "app/mixer/color_field.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "app/style/style.h"

namespace juvenor::app {
namespace {
constexpr float kMostChroma = 0.26f;
}

ColorField2D::ColorField2D(Kind kind) : kind_(kind) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(kind == Kind::Hue ? tr("Hue") : tr("Chroma and lightness"));
  setToolTip(kind == Kind::Hue
                 ? tr("Hue, in degrees")
                 : tr("Chroma across, lightness up; the line is the edge of what the screen can show"));
}

void ColorField2D::show(const Oklch& color) {
  color_ = color;
  update();
}

Oklch ColorField2D::at(double x, double y) const {
  const double u = std::clamp(x / width(), 0.0, 1.0), v = std::clamp(1 - y / height(), 0.0, 1.0);
  if (kind_ == Kind::Hue) return {color_.l, color_.c, static_cast<float>(u * 360)};
  return {static_cast<float>(v), static_cast<float>(u) * kMostChroma, color_.h};
}

void ColorField2D::redraw() {
  image_ = QImage(size(), QImage::Format_RGB32);
  for (int y = 0; y < height(); ++y)
    for (int x = 0; x < width(); ++x) {
      Oklch c = at(x + 0.5, y + 0.5);
      if (kind_ == Kind::Hue) c = {0.7f, 0.12f, c.h};
      const LinearColor linear = fromOklab(fromOklch(c));
      QColor shown = toQColor(toEncoded(c));
      // beyond the edge only a hint of the nearest colour
      if (kind_ == Kind::ChromaLightness && !insideSrgb(linear)) shown = QColor(0x38, 0x38, 0x38);
      image_.setPixelColor(x, y, shown);
    }
  drawnHue_ = color_.h;
}

void ColorField2D::paintEvent(QPaintEvent*) {
  if (image_.size() != size() || (kind_ == Kind::ChromaLightness && drawnHue_ != color_.h)) redraw();
  QPainter p(this);
  p.drawImage(0, 0, image_);
  p.setRenderHint(QPainter::Antialiasing);
  const double x = kind_ == Kind::Hue ? color_.h / 360.0 * width() : color_.c / kMostChroma * width();
  const double y = kind_ == Kind::Hue ? height() / 2.0 : (1 - color_.l) * height();
  const double r = kind_ == Kind::Hue ? 5 : 6;
  p.setPen(QPen(QColor(20, 20, 20, 180), 3.2));
  p.drawEllipse(QPointF(x, y), r, r);
  p.setPen(QPen(Qt::white, 1.8));
  p.drawEllipse(QPointF(x, y), r, r);
  if (hasFocus()) {
    p.setPen(QPen(look::kAccent, 2));
    p.drawRect(rect().adjusted(1, 1, -1, -1));
  }
}

void ColorField2D::mousePressEvent(QMouseEvent* event) {
  if (!(event->buttons() & Qt::LeftButton)) return;
  color_ = at(event->position().x(), event->position().y());
  emit chosen(color_);
  update();
}

void ColorField2D::keyPressEvent(QKeyEvent* event) {
  Oklch c = color_;
  const float sign = event->key() == Qt::Key_Left || event->key() == Qt::Key_Down ? -1.f : 1.f;
  const bool across = event->key() == Qt::Key_Left || event->key() == Qt::Key_Right;
  const bool upward = event->key() == Qt::Key_Up || event->key() == Qt::Key_Down;
  if (!across && !upward) return QWidget::keyPressEvent(event);
  if (kind_ == Kind::Hue)
    c.h = std::fmod(c.h + 2 * sign + 360, 360.f);
  else if (across)
    c.c = std::clamp(c.c + 0.004f * sign, 0.f, kMostChroma);
  else
    c.l = std::clamp(c.l + 0.01f * sign, 0.f, 1.f);
  color_ = c;
  emit chosen(c);
  update();
}

}  // namespace juvenor::app
