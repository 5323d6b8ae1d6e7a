// How often triangles cover the pixels of the tiles they lie in.
#pragma once

#include "core/textures/uv_layout.h"

namespace juvenor {

/// One for each tile that any triangle with an area touches, by number. A pixel counts as covered by a
/// triangle that holds its centre; of two that share an edge one alone does (the top-left rule). `pixels`: of
/// a tile's edge.
Result<std::vector<UvTile>> coverTiles(std::span<const UvTriangle> triangles, int pixels,
                                       const Progress& progress = {});

}  // namespace juvenor
