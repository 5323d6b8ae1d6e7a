#include "core/brush/brush.h"

#include <algorithm>

namespace juvenor {

float PressureCurve::operator()(float pressure) const {
  const float x = std::clamp(pressure, 0.f, 1.f);
  const auto bezier = [](float a, float b, float t) {
    const float u = 1 - t;
    return 3 * u * u * t * a + 3 * u * t * t * b + t * t * t;
  };
  float low = 0, high = 1;
  for (int i = 0; i < 24; ++i) {
    const float mid = (low + high) / 2;
    (bezier(first.x(), second.x(), mid) < x ? low : high) = mid;
  }
  return std::clamp(bezier(first.y(), second.y(), (low + high) / 2), 0.f, 1.f);
}

DabStrength strengthAt(const Brush& brush, float pressure) {
  const float p = brush.curve(pressure);
  // a brush that shrinks to nothing would leave gaps in a light stroke
  const float size = 0.15f + 0.85f * p;
  return {brush.radius * (brush.pressureSize ? size : 1.f), brush.opacity * (brush.pressureOpacity ? p : 1.f),
          brush.flow * (brush.pressureFlow ? p : 1.f)};
}

}  // namespace juvenor
