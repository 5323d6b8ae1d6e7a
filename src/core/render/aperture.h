// What of the surroundings a closed-in place mirrors: the sky it sees as a cone, the lobe it mirrors with as
// another, and how much of the second lies in the first (ambient aperture lighting: Oat and Sander 2007; as
// cones for light that is mirrored: Jimenez, Wu, Pesce, Jarabo 2016). A nostril mirrors the sky on the side
// it is open to, and its own wall on the other.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <span>

#include "core/vec.h"

namespace juvenor {

/// The part of the sky a place sees: `open` of a cosine-weighted hemisphere, 0…1, around a unit direction.
struct Aperture {
  float open = 1;
  Vec3 toward = Vec3::UnitY();
};

/// The part of what the lobe around `mirror` of alpha `width` gathers in the open that the aperture lets in,
/// 0…1; `normal`: of the surface, whose hemisphere is the open.
float mirroredThrough(const Aperture& aperture, const Vec3& normal, const Vec3& mirror, float width);

/// The cones of lobes, for who asks for many at once: angle and cosine of each, by even steps of the width's
/// root from 0 to 1.
std::span<const float> lobeCaps();

/// A unit direction in two bytes, within a degree: the octahedron's faces folded open (Cigolle and others
/// 2014).
std::array<int8_t, 2> packedDirection(const Vec3& direction);
Vec3 unpackedDirection(const std::array<int8_t, 2>& packed);

}  // namespace juvenor
