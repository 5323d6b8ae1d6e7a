// Noise over space for masks and markings. Its values are spread evenly: any tenth of 0…1 is as common on the
// skin as any other, so that a threshold says how much of the skin it takes. What is finer than the samples
// is left out instead of sparkling.
#pragma once

#include "core/vec.h"

namespace juvenor {

enum class NoiseKind {
  Cloud,   ///< soft clouds at several sizes
  Cells,   ///< round cells: 0 in their middles, 1 where they meet
  Ridged,  ///< branching ridges: 1 on them
};

/// 0…1. `p` in units of the largest features; `finest` in the same unit: features smaller than about twice
/// this fade out.
float evenNoise(NoiseKind kind, const Vec3& p, float finest, uint32_t seed);

}  // namespace juvenor
