// Where lines in space meet the skin: places spread evenly over it by area, whatever its triangles are like.
#pragma once

#include "core/surface/surface.h"

namespace juvenor {

struct LineHit {
  Vec3 position;  ///< in the surface's axes
  uint32_t triangle;
  uint64_t draw;  ///< random bits of its own
};

/// One line in every cell of a jittered grid along each of the three axes of the sculpt itself; of what they
/// meet so much is kept that a square of the grid's `cell` (scene units) has one hit on average, however it
/// lies. In no order. The same form gets the same hits, whatever its points and however it stands, but for a
/// few on the borders of cells. Of all of them only those whose turn is no later than `part`.
Result<std::vector<LineHit>> skinLines(const Surface& surface, float cell, uint32_t seed,
                                       const Progress& progress = {}, float part = 1);

/// When a hit has its turn among all, 0…1.
inline float turnOf(uint64_t draw) {
  return static_cast<float>(draw >> 40) * 0x1p-24f;
}

}  // namespace juvenor
