// How a single fibre grows from its root.
#pragma once

#include <array>

#include "core/hair/fibres.h"
#include "core/layers/sources/hair.h"

namespace juvenor {

/// Steps from root to tip, and the points of those with the outer two.
inline constexpr size_t kMostFibreSteps = 8, kMostFibrePoints = kMostFibreSteps + 3;

/// Its points go into `points`, as many as it says.
Fibre grownFibre(const HairGround& ground, const HairRoot& root, const Rays& rays,
                 std::array<FibrePoint, kMostFibrePoints>& points);

}  // namespace juvenor
