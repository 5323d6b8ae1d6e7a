// The stand-in for a tablet: gives a mouse pressure, by its speed or along the way, and plays back recorded
// strokes.
#pragma once

#include <QPointF>

#include "core/pen/pen_recording.h"

namespace juvenor::app {

class SimulatedPen {
 public:
  enum class Pressure { Full, Ramp, Speed };
  void setPressure(Pressure pressure) { pressure_ = pressure; }
  Pressure pressure() const { return pressure_; }

  /// The pressure when the mouse goes down, and when it has moved to a place; 0…1. `milliseconds` of any
  /// clock.
  float press(const QPointF& position, qint64 milliseconds);
  float move(const QPointF& position, qint64 milliseconds);

 private:
  Pressure pressure_ = Pressure::Full;
  QPointF last_;
  qint64 lastMilliseconds_ = 0;
  float way_ = 0, simulated_ = 0;
};

}  // namespace juvenor::app
