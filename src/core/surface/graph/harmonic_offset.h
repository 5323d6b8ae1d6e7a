// The smoothest field over a patch of skin with given values at some of its samples: harmonic over the
// samples' own graph, its weights the cotangents of the skin's triangles (Pinkall, Polthier 1993), solved by
// conjugate gradients. Added to colours it moves their tone to that of the skin around and keeps their
// differences, as in seamless cloning (Pérez, Gangnet, Blake 2003).
#pragma once

#include <array>
#include <span>
#include <vector>

#include "core/surface/surface.h"

namespace juvenor {

/// The harmonic offset of three planes: `offset` (in and out) holds a value for each of `samples`, given
/// where `fixed` says so, and a first guess elsewhere. With nothing fixed it stays as it is. Neighbours that
/// are not among the samples count for nothing.
void harmonicOffset(const Surface& surface, std::span<const uint32_t> samples, std::span<const char> fixed,
                    std::span<std::array<float, 3>> offset);

}  // namespace juvenor
