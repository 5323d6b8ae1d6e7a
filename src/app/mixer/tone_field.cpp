#include "app/mixer/tone_field.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "app/style/style.h"

namespace juvenor::app {

ToneField::ToneField() {
  setFocusPolicy(Qt::StrongFocus);
  setObjectName("tone field");
  setAccessibleName(tr("Skin tone"));
  setToolTip(tr("Blood to the right, melanin downward: tones worked out from what is in the skin"));
}

void ToneField::show(const SkinTone& tone) {
  tone_ = tone;
  beside_.reset();
  update();
}

void ToneField::showNearest(const SkinTone& tone, const EncodedColor& color) {
  tone_.melanin = tone.melanin;
  tone_.blood = tone.blood;
  beside_ = color;
  update();
}

// Worked out on a coarse grid and drawn smoothly: the tones change slowly.
void ToneField::redraw() {
  constexpr int kAcross = 24, kDown = 20;
  image_ = QImage(kAcross, kDown, QImage::Format_RGB32);
  for (int y = 0; y < kDown; ++y)
    for (int x = 0; x < kAcross; ++x)
      image_.setPixelColor(x, y,
                           toQColor(colorOf({static_cast<float>(y) / (kDown - 1),
                                             static_cast<float>(x) / (kAcross - 1), tone_.yellow})));
  image_ = image_.scaled(size(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
  drawnYellow_ = tone_.yellow;
}

void ToneField::paintEvent(QPaintEvent*) {
  if (image_.size() != size() || drawnYellow_ != tone_.yellow) redraw();
  QPainter p(this);
  p.drawImage(0, 0, image_);
  p.setRenderHint(QPainter::Antialiasing);
  const QPointF at(static_cast<double>(tone_.blood) * width(), static_cast<double>(tone_.melanin) * height());
  if (beside_) {
    // a colour that is no skin lies beside the field: filled with itself, its ring open
    const QPointF inside(std::clamp(at.x(), 9.0, width() - 9.0), std::clamp(at.y(), 9.0, height() - 9.0));
    p.setPen(QPen(QColor(20, 20, 20, 180), 3.2));
    p.setBrush(toQColor(*beside_));
    p.drawEllipse(inside, 6, 6);
    p.setPen(QPen(Qt::white, 1.8, Qt::DotLine));
    p.drawEllipse(inside, 6, 6);
  } else {
    p.setPen(QPen(QColor(20, 20, 20, 180), 3.2));
    p.drawEllipse(at, 6, 6);
    p.setPen(QPen(Qt::white, 1.8));
    p.drawEllipse(at, 6, 6);
  }
  p.setBrush(Qt::NoBrush);
  if (hasFocus()) {
    p.setPen(QPen(look::kAccent, 2));
    p.drawRect(rect().adjusted(1, 1, -1, -1));
  }
}

void ToneField::mousePressEvent(QMouseEvent* event) {
  if (!(event->buttons() & Qt::LeftButton)) return;
  tone_.blood = std::clamp(static_cast<float>(event->position().x() / width()), 0.f, 1.f);
  tone_.melanin = std::clamp(static_cast<float>(event->position().y() / height()), 0.f, 1.f);
  beside_.reset();
  emit chosen(tone_);
  update();
}

void ToneField::keyPressEvent(QKeyEvent* event) {
  const int across = (event->key() == Qt::Key_Right) - (event->key() == Qt::Key_Left);
  const int down = (event->key() == Qt::Key_Down) - (event->key() == Qt::Key_Up);
  if (across == 0 && down == 0) return QWidget::keyPressEvent(event);
  tone_.blood = std::clamp(tone_.blood + 0.01f * static_cast<float>(across), 0.f, 1.f);
  tone_.melanin = std::clamp(tone_.melanin + 0.01f * static_cast<float>(down), 0.f, 1.f);
  beside_.reset();
  emit chosen(tone_);
  update();
}

}  // namespace juvenor::app
