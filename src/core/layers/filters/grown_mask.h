// What a mask shows, grown along the skin or drawn back: as far from its rim, where it passes one half, as a
// way says.
#pragma once

#include <span>
#include <vector>

#include "core/surface/graph/skin_edges.h"

namespace juvenor {

/// Grows `values` (0…1, one for each place) by `way` (scene units, below 0: shrinks them). `edge`: over how
/// much the new rim fades, no less than places lie apart.
void growMask(const SkinEdges& skin, std::span<float> values, float way, float edge);

}  // namespace juvenor
