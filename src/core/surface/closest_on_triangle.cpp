#include "core/surface/closest_on_triangle.h"

#include <algorithm>

namespace juvenor {

Vec3 closestOnTriangle(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c) {
  const Vec3 ab = b - a, ac = c - a, ap = p - a;
  const float d1 = ab.dot(ap), d2 = ac.dot(ap);
  if (d1 <= 0 && d2 <= 0) return a;
  const Vec3 bp = p - b;
  const float d3 = ab.dot(bp), d4 = ac.dot(bp);
  if (d3 >= 0 && d4 <= d3) return b;
  const float vc = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) return a + ab * (d1 / (d1 - d3));
  const Vec3 cp = p - c;
  const float d5 = ab.dot(cp), d6 = ac.dot(cp);
  if (d6 >= 0 && d5 <= d6) return c;
  const float vb = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) return a + ac * (d2 / (d2 - d6));
  const float va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) return b + (c - b) * ((d4 - d3) / ((d4 - d3) + (d5 - d6)));
  const float sum = va + vb + vc;
  return sum > 0 ? Vec3(a + ab * (vb / sum) + ac * (vc / sum)) : a;
}

Vec2 weightsOnTriangle(const Vec3& place, const Vec3& a, const Vec3& b, const Vec3& c) {
  const Eigen::Vector3d ab = (b - a).cast<double>(), ac = (c - a).cast<double>(),
                        ap = (place - a).cast<double>();
  const Eigen::Vector3d across = ab.cross(ac);
  const double area = across.squaredNorm();
  if (!(area > 0)) return Vec2::Zero();
  const double second = std::clamp(across.dot(ap.cross(ac)) / area, 0.0, 1.0);
  const double third = std::clamp(across.dot(ab.cross(ap)) / area, 0.0, 1 - second);
  return {static_cast<float>(second), static_cast<float>(third)};
}

}  // namespace juvenor
