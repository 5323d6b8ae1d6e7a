// The planes a figure is mirrored in: its own, in place of x = 0, and those at right angles to it.
#pragma once

#include <array>
#include <memory>

#include "core/vec.h"

namespace juvenor {

/// A plane: places p with normal · p = offset.
struct MirrorPlane {
  Vec3 normal = Vec3::UnitX();  ///< unit
  float offset = 0;             ///< scene units

  Vec3 mirrored(const Vec3& p) const { return p - 2 * (normal.dot(p) - offset) * normal; }
  bool operator==(const MirrorPlane& o) const { return normal == o.normal && offset == o.offset; }
};

class RestSkin;
struct Surface;

class Mirrors {
 public:
  /// Which of the three planes a place is mirrored in: the own one, the level one, the one across.
  using Across = std::array<bool, 3>;

  /// The planes in which coordinates are 0; mirroring is exact.
  Mirrors() = default;
  /// `rest`: the planes are those of a figure at rest, and the other side of a posed place is found there;
  /// null: the figure itself is symmetric.
  explicit Mirrors(const MirrorPlane& own, std::shared_ptr<const RestSkin> rest = nullptr)
      : rest_(std::move(rest)) {
    if (own == MirrorPlane{}) return;
    axes_ = turnBetween<float>(Vec3::UnitX(), own.normal).toRotationMatrix();
    origin_ = own.offset * own.normal;
  }

  Vec3 place(const Vec3& p, const Across& across) const;
  /// A direction at a place, as it is on the other side.
  Vec3 direction(const Vec3& v, const Across& across, const Vec3& at) const;
  /// How far a place lies before a plane, on the side of greater coordinates; negative behind it.
  float side(const Vec3& p, size_t plane) const;
  /// The same of a sample of the skin.
  float sideOf(const Surface& surface, size_t sample, size_t plane) const;
  /// The place of a plane that is nearest.
  Vec3 onPlane(const Vec3& p, size_t plane) const;

 private:
  Vec3 plainPlace(const Vec3& p, const Across& across) const {
    return origin_ + plainDirection(p - origin_, across);
  }
  Vec3 plainDirection(const Vec3& v, const Across& across) const {
    Vec3 own = axes_.transpose() * v;
    for (int axis = 0; axis < 3; ++axis)
      if (across[static_cast<size_t>(axis)]) own[axis] = -own[axis];
    return axes_ * own;
  }
  float plainSide(const Vec3& p, size_t plane) const {
    return axes_.col(static_cast<Eigen::Index>(plane)).dot(p - origin_);
  }

  Eigen::Matrix3f axes_ = Eigen::Matrix3f::Identity();
  Vec3 origin_ = Vec3::Zero();
  std::shared_ptr<const RestSkin> rest_;
};

}  // namespace juvenor
