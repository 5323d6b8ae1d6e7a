// The planes a figure is mirrored in: its own, in place of x = 0, and those at right angles to it.
#pragma once

#include <array>

#include "core/vec.h"

namespace juvenor {

/// A plane: places p with normal · p = offset.
struct MirrorPlane {
  Vec3 normal = Vec3::UnitX();  ///< unit
  float offset = 0;             ///< scene units

  Vec3 mirrored(const Vec3& p) const { return p - 2 * (normal.dot(p) - offset) * normal; }
  bool operator==(const MirrorPlane& o) const { return normal == o.normal && offset == o.offset; }
};

class Mirrors {
 public:
  /// Which of the three planes a place is mirrored in: the own one, the level one, the one across.
  using Across = std::array<bool, 3>;

  /// The planes in which coordinates are 0; mirroring is exact.
  Mirrors() = default;
  explicit Mirrors(const MirrorPlane& own) {
    if (own == MirrorPlane{}) return;
    axes_ = Eigen::Quaternionf::FromTwoVectors(Vec3::UnitX(), own.normal).toRotationMatrix();
    origin_ = own.offset * own.normal;
  }

  Vec3 place(const Vec3& p, const Across& across) const { return origin_ + direction(p - origin_, across); }
  Vec3 direction(const Vec3& v, const Across& across) const {
    Vec3 own = axes_.transpose() * v;
    for (int axis = 0; axis < 3; ++axis)
      if (across[static_cast<size_t>(axis)]) own[axis] = -own[axis];
    return axes_ * own;
  }
  /// How far a place lies before a plane, on the side of greater coordinates; negative behind it.
  float side(const Vec3& p, size_t plane) const {
    return axes_.col(static_cast<Eigen::Index>(plane)).dot(p - origin_);
  }
  /// The place of a plane that is nearest.
  Vec3 onPlane(const Vec3& p, size_t plane) const {
    return p - side(p, plane) * axes_.col(static_cast<Eigen::Index>(plane));
  }

 private:
  Eigen::Matrix3f axes_ = Eigen::Matrix3f::Identity();
  Vec3 origin_ = Vec3::Zero();
};

}  // namespace juvenor
