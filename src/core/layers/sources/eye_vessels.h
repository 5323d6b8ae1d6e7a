// The vessels on the white of an eye: from its back and corners toward the iris, winding, forking, thinner as
// they go; they end before they reach it.
#pragma once

#include "core/layers/sources/eyes.h"

namespace juvenor {

/// From one place on the ball to the next.
struct VesselPiece {
  Vec3 from, to;
  float radius;    ///< scene units
  float strength;  ///< 0…1: how deep red
};

/// `right` and `up`: as EyeLook has them. None where an eye shows none.
std::vector<VesselPiece> eyeVessels(const Eyes& eyes, const EyeBall& ball, const Vec3& right, const Vec3& up);

/// How much a piece covers a place, 0…1; points lie so far `apart`.
float vesselCover(const VesselPiece& piece, const Vec3& place, float apart);

}  // namespace juvenor
