#include "app/mixer/tone_field.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/style/style.h"

namespace juvenor::app {

ToneField::ToneField() {
  setObjectName("tone field");
  setAccessibleName(tr("Skin tone"));
  setToolTip(tr("Blood to the right, melanin downward: tones worked out from what is in the skin"));
}

void ToneField::show(const SkinTone& tone) {
  const bool another = tone.yellow != tone_.yellow;
  tone_ = tone;
  beside_.reset();
  another ? redraw() : update();
}

void ToneField::showNearest(const SkinTone& tone, const EncodedColor& color) {
  tone_.melanin = tone.melanin;
  tone_.blood = tone.blood;
  beside_ = color;
  update();
}

// Worked out on a coarse grid and drawn smoothly: the tones change slowly.
QImage ToneField::drawn() const {
  constexpr int kAcross = 24, kDown = 20;
  QImage out(kAcross, kDown, QImage::Format_RGB32);
  for (int y = 0; y < kDown; ++y)
    for (int x = 0; x < kAcross; ++x)
      out.setPixelColor(x, y,
                        toQColor(colorOf({static_cast<float>(y) / (kDown - 1),
                                          static_cast<float>(x) / (kAcross - 1), tone_.yellow})));
  return out.scaled(size(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
}

QPointF ToneField::place() const {
  return {static_cast<double>(tone_.blood), static_cast<double>(tone_.melanin)};
}

QString ToneField::words() const {
  return tr("blood %1 %, melanin %2 %")
      .arg(std::lround(100 * tone_.blood))
      .arg(std::lround(100 * tone_.melanin));
}

void ToneField::take(const QPointF& place) {
  tone_.blood = static_cast<float>(place.x());
  tone_.melanin = static_cast<float>(place.y());
  beside_.reset();
  emit chosen(tone_);
}

void ToneField::drawMark(QPainter& painter, const QPointF& at) const {
  if (!beside_) return ColorPlane::drawMark(painter, at);
  // a colour that is no skin lies beside the field: filled with itself, its ring open
  const QPointF inside(std::clamp(at.x(), 9.0, width() - 9.0), std::clamp(at.y(), 9.0, height() - 9.0));
  painter.setPen(QPen(QColor(20, 20, 20, 180), 3.2));
  painter.setBrush(toQColor(*beside_));
  painter.drawEllipse(inside, 6, 6);
  painter.setPen(QPen(Qt::white, 1.8, Qt::DotLine));
  painter.drawEllipse(inside, 6, 6);
}

}  // namespace juvenor::app

#include "moc_tone_field.cpp"
