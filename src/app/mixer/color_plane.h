// A plane of colours to choose from by hand or by the arrow keys: what is under the tone and the colour
// fields. It draws the picture, the ring at the chosen place and the focus; what places mean is the business
// of its kinds.
#pragma once

#include <QImage>
#include <QWidget>

namespace juvenor::app {

class ColorPlane : public QWidget {
 public:
  ColorPlane();

 protected:
  /// The picture, of the widget's size.
  virtual QImage drawn() const = 0;
  /// The chosen place: 0…1 to the right and downward.
  virtual QPointF place() const = 0;
  /// Chooses a place, both parts 0…1.
  virtual void take(const QPointF& place) = 0;
  /// How far an arrow key goes; 0 where there is only one way to go.
  virtual QPointF step() const { return {0.01, 0.01}; }
  /// The chosen place as one reads it: "blood 45 %, melanin 40 %".
  virtual QString words() const = 0;
  virtual void drawMark(QPainter& painter, const QPointF& at) const;
  /// The picture is another one from now on.
  void redraw();

  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override { mousePressEvent(event); }
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QImage image_;
};

}  // namespace juvenor::app
