// The skin of a figure as it lies in another pose of the same samples, and the ways between the two: a place
// near a sample lies the same way near it in the other pose, turned as the skin there is turned.
#pragma once

#include "core/surface/surface.h"

namespace juvenor {

class RestSkin {
 public:
  /// `rest`: where each sample lies at rest, scene units.
  RestSkin(std::shared_ptr<const Surface> posed, std::vector<Vec3> rest);

  /// The place at rest of one near the posed skin, and the other way round.
  Vec3 atRest(const Vec3& posed) const;
  Vec3 posed(const Vec3& atRest) const;
  /// A direction at a posed place as it is at rest, and the other way round.
  Vec3 turnedToRest(const Vec3& direction, const Vec3& posed) const;
  Vec3 turnedToPose(const Vec3& direction, const Vec3& atRest) const;
  const Vec3& restOf(size_t sample) const { return rest_->positions[sample]; }

  /// The same over a surface of the same samples.
  std::shared_ptr<const RestSkin> over(std::shared_ptr<const Surface> posed) const;
  /// The whole surface at rest.
  std::shared_ptr<const Surface> surfaceAtRest() const;

 private:
  RestSkin() = default;
  Eigen::Matrix3f frameOf(const Surface& surface, uint32_t sample) const;

  std::shared_ptr<const Surface> posed_;
  std::shared_ptr<const Surface> rest_;  ///< places, normals and boxes alone
};

}  // namespace juvenor
