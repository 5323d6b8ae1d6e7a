#include "app/easel/simulated_pen.h"

#include <QLineF>
#include <algorithm>

namespace juvenor::app {

float SimulatedPen::press(const QPointF& position, qint64 milliseconds) {
  last_ = position;
  lastMilliseconds_ = milliseconds;
  way_ = 0;
  simulated_ = 0.2f;
  return move(position, milliseconds);
}

float SimulatedPen::move(const QPointF& position, qint64 milliseconds) {
  const auto step = static_cast<float>(QLineF(last_, position).length());
  const float speed = step / static_cast<float>(std::max<qint64>(1, milliseconds - lastMilliseconds_));
  way_ += step;
  last_ = position;
  lastMilliseconds_ = milliseconds;
  switch (pressure_) {
    case Pressure::Ramp:
      return std::clamp(0.1f + way_ / 250.f, 0.f, 1.f);
    case Pressure::Speed:
      // slow presses hard, as a hand does; smoothed so that one late event does not blot
      simulated_ += 0.3f * (1.f / (1.f + 0.8f * speed) - simulated_);
      return std::clamp(simulated_, 0.05f, 1.f);
    default:
      return 1;
  }
}

}  // namespace juvenor::app
