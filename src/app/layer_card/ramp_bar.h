// The colour ramp of a layer as a bar with its stops: drag a stop, double click the bar to add one in the
// mixer's colour, right click a stop to colour it, make it clear or take it away.
#pragma once

#include <QWidget>

#include "core/layers/ramp.h"

namespace juvenor::app {

class RampBar : public QWidget {
  Q_OBJECT
 public:
  RampBar();
  void show(const RampStops& ramp);
  const RampStops& ramp() const { return ramp_; }
  /// The mixer's colour, for new stops and for colouring one.
  void setColor(const EncodedColor& color) { color_ = color; }

 signals:
  void sliding();
  void changed();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;

 private:
  int stopAt(const QPointF& position) const;
  double xOf(const RampStop& stop) const;

  RampStops ramp_;
  EncodedColor color_;
  int held_ = -1;
};

}  // namespace juvenor::app
