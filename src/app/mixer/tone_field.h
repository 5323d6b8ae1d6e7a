// The field of skin tones: blood across, melanin down, at one amount of yellow.
#pragma once

#include <QImage>
#include <QWidget>

#include "core/color/skin_tone.h"

namespace juvenor::app {

class ToneField : public QWidget {
  Q_OBJECT
 public:
  ToneField();
  void show(const SkinTone& tone);
  const SkinTone& tone() const { return tone_; }

 signals:
  void chosen(const juvenor::SkinTone& tone);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override { mousePressEvent(event); }
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void redraw();

  SkinTone tone_;
  QImage image_;
  float drawnYellow_ = -1;
};

}  // namespace juvenor::app
