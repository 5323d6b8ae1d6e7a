// The vector type of the whole core and the box around points.
#pragma once

#include <Eigen/Core>
#include <Eigen/Geometry>
#include <span>

namespace juvenor {

using Vec2 = Eigen::Vector2f;
using Vec3 = Eigen::Vector3f;

/// Axis-aligned box; empty until a point is added.
struct Box {
  Vec3 low = Vec3::Constant(std::numeric_limits<float>::max());
  Vec3 high = Vec3::Constant(std::numeric_limits<float>::lowest());

  void add(const Vec3& point) {
    low = low.cwiseMin(point);
    high = high.cwiseMax(point);
  }
  bool empty() const { return low.x() > high.x(); }
  Vec3 center() const { return 0.5f * (low + high); }
  float diagonal() const { return empty() ? 0.f : (high - low).norm(); }
  /// Squared distance from `point` to the box, 0 inside.
  float squaredDistance(const Vec3& point) const {
    return (low - point).cwiseMax(point - high).cwiseMax(Vec3::Zero()).squaredNorm();
  }
};

/// `v` scaled to length one, or `fallback` where v has no direction (exact for the smallest floats).
inline Vec3 normalizedOr(const Vec3& v, const Vec3& fallback) {
  const Eigen::Vector3d d = v.cast<double>();
  const double length = d.norm();
  return length > 0 ? Vec3((d / length).cast<float>()) : fallback;
}

/// The shortest turn that takes one direction to another; half a turn about any axis where they are opposite.
/// (Eigen's own asks for a singular value decomposition there, which every file that includes this would
/// compile.)
template <class Scalar>
Eigen::Quaternion<Scalar> turnBetween(const Eigen::Matrix<Scalar, 3, 1>& from,
                                      const Eigen::Matrix<Scalar, 3, 1>& to) {
  const Eigen::Matrix<Scalar, 3, 1> a = from.normalized(), b = to.normalized();
  const Scalar cosine = a.dot(b);
  Eigen::Quaternion<Scalar> out;
  if (cosine <= -1 + Eigen::NumTraits<Scalar>::dummy_precision()) {
    out.w() = 0;
    out.vec() = a.unitOrthogonal();
    return out;
  }
  const Scalar s = std::sqrt((1 + cosine) * 2);
  out.w() = s / 2;
  out.vec() = a.cross(b) / s;
  return out;
}

/// The whole number at or below, for |value| below 9e18; std::floor is a call where the machine's oldest
/// instructions have to do.
inline int64_t floorToWhole(float value) {
  const auto whole = static_cast<int64_t>(value);
  return whole - (value < static_cast<float>(whole) ? 1 : 0);
}

}  // namespace juvenor
