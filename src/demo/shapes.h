// Signed distances and how to join them: the clay the demo sculpts are made of. Negative inside, millimetres.
// Smooth union after Quílez 2013 (polynomial smooth minimum).
#pragma once

#include <algorithm>
#include <cmath>

#include "core/vec.h"

namespace juvenor::demo {

/// One half stands for both: x folded onto its positive side.
inline Vec3 folded(const Vec3& p) {
  return {std::abs(p.x()), p.y(), p.z()};
}

inline Box boxOf(const Vec3& low, const Vec3& high) {
  Box b;
  b.add(low);
  b.add(high);
  return b;
}

inline float ellipsoid(const Vec3& p, const Vec3& center, const Vec3& radii) {
  const Vec3 q = p - center;
  const float k0 = q.cwiseQuotient(radii).norm(), k1 = q.cwiseQuotient(radii.cwiseProduct(radii)).norm();
  return k1 > 0 ? k0 * (k0 - 1) / k1 : -radii.minCoeff();
}

inline float sphere(const Vec3& p, const Vec3& center, float radius) {
  return (p - center).norm() - radius;
}

/// A rod from a to b whose radius goes from ra to rb.
inline float rod(const Vec3& p, const Vec3& a, const Vec3& b, float ra, float rb) {
  const Vec3 pa = p - a, ba = b - a;
  const float h = std::clamp(pa.dot(ba) / ba.squaredNorm(), 0.f, 1.f);
  return (pa - ba * h).norm() - (ra + (rb - ra) * h);
}

inline float join(float a, float b, float softness) {
  const float h = std::max(softness - std::abs(a - b), 0.f) / softness;
  return std::min(a, b) - h * h * softness * 0.25f;
}

inline float carve(float body, float tool, float softness) {
  return -join(-body, tool, softness);
}

/// A tube of a radius along the line where two surfaces meet: lips, lids, rims, folds.
inline float seam(float a, float b, float radius) {
  return std::hypot(a, b) - radius;
}

inline float smoothstep(float low, float high, float v) {
  const float t = std::clamp((v - low) / (high - low), 0.f, 1.f);
  return t * t * (3 - 2 * t);
}

}  // namespace juvenor::demo
