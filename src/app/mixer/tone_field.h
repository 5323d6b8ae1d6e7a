// The field of skin tones: blood across, melanin down, at one amount of yellow.
#pragma once

#include <QImage>
#include <QWidget>
#include <optional>

#include "core/color/skin_tone.h"

namespace juvenor::app {

class ToneField : public QWidget {
  Q_OBJECT
 public:
  ToneField();
  void show(const SkinTone& tone);
  /// Marks the tone nearest to a colour that is not skin; the field itself stays as it is.
  void showNearest(const SkinTone& tone, const EncodedColor& color);
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
  std::optional<EncodedColor> beside_;  // the colour in hand when it is no tone of the field
  QImage image_;
  float drawnYellow_ = -1;
};

}  // namespace juvenor::app
