// Free colours: lightness by chroma at one hue (Oklch) with the edge of what a screen can show, and the strip
// of hues.
#pragma once

#include <QImage>
#include <QWidget>

#include "core/color/oklab.h"

namespace juvenor::app {

/// The field of chroma (across) and lightness (up) at one hue, or the strip of hues.
class ColorField2D : public QWidget {
  Q_OBJECT
 public:
  enum class Kind { ChromaLightness, Hue };
  explicit ColorField2D(Kind kind);
  void show(const Oklch& color);

 signals:
  void chosen(const juvenor::Oklch& color);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override { mousePressEvent(event); }
  void keyPressEvent(QKeyEvent* event) override;

 private:
  Oklch at(double x, double y) const;
  void redraw();

  Kind kind_;
  Oklch color_;
  QImage image_;
  float drawnHue_ = -1;
};

}  // namespace juvenor::app
