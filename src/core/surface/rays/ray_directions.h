// Directions over a hemisphere for rays that start at samples: evenly spread, another shift for every sample,
// the same on every run.
#pragma once

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/vec.h"

namespace juvenor {

/// Point `index` of the R2 sequence (Roberts 2018), shifted per sample, in the unit square.
inline Vec2 spreadPoint(uint32_t sample, uint32_t index) {
  uint32_t h = sample * 2654435761u;
  h ^= h >> 15;
  h *= 2246822519u;
  h ^= h >> 13;
  const double a = 0.7548776662466927 * index + static_cast<double>(h & 0xffff) / 65536.0;
  const double b = 0.5698402909980532 * index + static_cast<double>(h >> 16) / 65536.0;
  return {static_cast<float>(a - std::floor(a)), static_cast<float>(b - std::floor(b))};
}

/// A direction at an angle of cosine `height` from `axis` (unit), turned around it by `turn` (0…1 of a
/// circle).
inline Vec3 directionAround(const Vec3& axis, float height, float turn) {
  const float r = std::sqrt(std::max(0.f, 1 - height * height)), angle = 2 * std::numbers::pi_v<float> * turn;
  const Vec3 x = axis.unitOrthogonal(), y = axis.cross(x);
  return (r * std::cos(angle) * x + r * std::sin(angle) * y + height * axis).normalized();
}

/// A direction of the hemisphere over `normal`, as often as its cosine.
inline Vec3 cosineDirection(const Vec3& normal, const Vec2& u) {
  return directionAround(normal, std::sqrt(std::max(0.f, 1 - u.x())), u.y());
}

}  // namespace juvenor
