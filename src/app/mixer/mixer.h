// The colour panel: lightness by chroma at a hue (Oklch) with the edge of what a screen can show, hue, hex
// and RGB, current and previous colour, and the wells of the document.
#pragma once

#include <QImage>
#include <QWidget>

#include "app/session/session.h"
#include "core/color/oklab.h"

class QLineEdit;

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

class Mixer : public QWidget {
  Q_OBJECT
 public:
  explicit Mixer(Session& session);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;

 private:
  void refresh();
  void choose(const Oklch& color);
  QRect wellRect(int index) const;
  void keepWell(int index);

  Session& session_;
  ColorField2D* field_;
  ColorField2D* hue_;
  QLineEdit* hex_;
  QLineEdit* rgb_[3];
  Oklch color_;
};

}  // namespace juvenor::app
