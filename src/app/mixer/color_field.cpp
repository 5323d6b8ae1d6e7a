#include "app/mixer/color_field.h"

#include <algorithm>
#include <cmath>

#include "app/style/style.h"

namespace juvenor::app {
namespace {
constexpr float kMostChroma = 0.26f;
}

ColorField2D::ColorField2D(Kind kind) : kind_(kind) {
  setAccessibleName(kind == Kind::Hue ? tr("Hue") : tr("Chroma and lightness"));
  setToolTip(kind == Kind::Hue
                 ? tr("Hue, in degrees")
                 : tr("Chroma across, lightness up; the line is the edge of what the screen can show"));
}

void ColorField2D::show(const Oklch& color) {
  const bool another = kind_ == Kind::ChromaLightness && color.h != color_.h;
  color_ = color;
  another ? redraw() : update();
}

Oklch ColorField2D::at(const QPointF& place) const {
  const auto u = static_cast<float>(place.x());
  if (kind_ == Kind::Hue) return {color_.l, color_.c, u * 360};
  return {static_cast<float>(1 - place.y()), u * kMostChroma, color_.h};
}

QImage ColorField2D::drawn() const {
  QImage out(size(), QImage::Format_RGB32);
  for (int y = 0; y < height(); ++y)
    for (int x = 0; x < width(); ++x) {
      Oklch c = at({(x + 0.5) / width(), (y + 0.5) / height()});
      if (kind_ == Kind::Hue) c = {0.7f, 0.12f, c.h};
      const LinearColor linear = fromOklab(fromOklch(c));
      QColor shown = toQColor(toEncoded(c));
      // beyond the edge only a hint of the nearest colour
      if (kind_ == Kind::ChromaLightness && !insideSrgb(linear)) shown = QColor(0x38, 0x38, 0x38);
      out.setPixelColor(x, y, shown);
    }
  return out;
}

QPointF ColorField2D::place() const {
  if (kind_ == Kind::Hue) return {static_cast<double>(color_.h) / 360, 0.5};
  return {static_cast<double>(color_.c / kMostChroma), static_cast<double>(1 - color_.l)};
}

QString ColorField2D::words() const {
  if (kind_ == Kind::Hue) return tr("%1°").arg(std::lround(color_.h));
  return tr("chroma %1, lightness %2 %")
      .arg(static_cast<double>(color_.c), 0, 'f', 3)
      .arg(std::lround(100 * color_.l));
}

void ColorField2D::take(const QPointF& place) {
  color_ = at(place);
  emit chosen(color_);
}

QPointF ColorField2D::step() const {
  if (kind_ == Kind::Hue) return {2.0 / 360, 0};
  return {0.004 / static_cast<double>(kMostChroma), 0.01};
}

}  // namespace juvenor::app

#include "moc_color_field.cpp"
