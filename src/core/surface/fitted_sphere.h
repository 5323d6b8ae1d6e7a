// The ball that lies nearest to some places: an algebraic fit (Coope 1993, a linear least squares problem),
// repeated without what lies farthest off, so that a cornea or a lid's edge does not bend it.
#pragma once

#include <optional>
#include <span>

#include "core/vec.h"

namespace juvenor {

struct FittedSphere {
  Vec3 center = Vec3::Zero();
  float radius = 0;
  float off = 0;  ///< what the places it was fitted to lie off it, the root of the mean square
};

/// Nothing where there are too few places, or they lie in a plane.
std::optional<FittedSphere> fittedSphere(std::span<const Vec3> places);

}  // namespace juvenor
