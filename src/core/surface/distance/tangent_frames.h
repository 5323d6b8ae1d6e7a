// Directions in the skin: how one of them is carried from place to place, and a frame at each place in which
// it is one complex number, so that a direction that looks alike after half or a quarter turn is a power of
// it.
#pragma once

#include <complex>
#include <vector>

#include "core/vec.h"

namespace juvenor {

/// A direction of one tangent plane in another, as turning the first's normal onto the second's takes it.
inline Vec3 carried(const Vec3& axis, const Vec3& from, const Vec3& to) {
  const Vec3 cross = from.cross(to);
  const float cosine = from.dot(to);
  if (cosine < -0.99f) return normalizedOr(axis - axis.dot(to) * to, to.unitOrthogonal());
  return cosine * axis + cross.cross(axis) + cross.dot(axis) / (1 + cosine) * cross;
}

/// A unit complex number to the power of a symmetry.
inline std::complex<float> powerOf(std::complex<float> z, int symmetry) {
  std::complex<float> out = z;
  for (int i = 1; i < symmetry; ++i) out *= z;
  return out;
}

struct TangentFrames {
  std::vector<Vec3> normals, axes;  ///< unit; the axis is where a complex number is real

  explicit TangentFrames(std::vector<Vec3> unitNormals);
  size_t size() const { return normals.size(); }

  /// What lies in the skin of a vector.
  std::complex<float> numberOf(const Vec3& v, size_t at) const {
    return {v.dot(axes[at]), v.dot(normals[at].cross(axes[at]))};
  }
  Vec3 vectorOf(std::complex<float> z, size_t at) const {
    return z.real() * axes[at] + z.imag() * normals[at].cross(axes[at]);
  }
  /// What turns a power here at `from` into one of `other` at `to`.
  std::complex<float> transport(size_t from, const TangentFrames& other, size_t to, int symmetry) const {
    const std::complex<float> z = other.numberOf(carried(axes[from], normals[from], other.normals[to]), to);
    const float length = std::abs(z);
    return length > 0 ? powerOf(z / length, symmetry) : std::complex<float>(1, 0);
  }
};

}  // namespace juvenor
