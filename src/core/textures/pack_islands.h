// Flat charts laid side by side in tiles, by pictures of them: each goes where it fits first, from the
// largest to the smallest, into the holes of those that lie there too. (Placing by pictures: common
// practice.)
#pragma once

#include "core/textures/flatten.h"

namespace juvenor {

/// Where a chart goes: turned, scaled by a factor all share, moved into its tile.
struct Packed {
  std::vector<std::array<Vec2, 3>> corners;  ///< of its triangles, in the layout
  int tile = 1001;
};

struct PackSetting {
  int tiles = 1;           ///< that all are spread over
  float padding = 0.004f;  ///< between islands, and half of it to the border; a tile is 1
};

struct PackedCharts {
  std::vector<Packed> charts;
  float scale = 1;  ///< length in the layout for one on the mesh
};
/// The only error is a cancel.
Result<PackedCharts> packIslands(std::span<const FlatChart> charts, const PackSetting& setting,
                                 const Progress& progress = {});

}  // namespace juvenor
