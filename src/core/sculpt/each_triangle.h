// Every polygon of a sculpt as triangles, always the same way and in the same order: a polygon of n corners
// that begins at corner c has its triangles from number c − 2 times its own on. Everything that speaks of a
// triangle of a sculpt by number means these.
#pragma once

#include <array>

#include "core/parallel.h"
#include "core/sculpt/sculpt.h"

namespace juvenor {

inline size_t triangleCount(const Sculpt& sculpt) {
  return sculpt.corners.size() - 2 * sculpt.polygonCount();
}

/// Calls `take(number, polygon, places)` for each on all cores; `places` are positions within the polygon.
template <class Take>
void eachTriangle(const Sculpt& sculpt, Take&& take) {
  parallel(sculpt.polygonCount(), [&](size_t p) {
    const auto polygon = sculpt.polygon(p);
    const size_t first = sculpt.polygonStart[p] - 2 * p;
    if (polygon.size() == 3) return take(first, p, std::array<uint32_t, 3>{0, 1, 2});
    if (polygon.size() == 4) {
      const auto halves = halvesOfQuad(sculpt.vertices, polygon);
      take(first, p, halves[0]);
      take(first + 1, p, halves[1]);
      return;
    }
    std::vector<std::array<uint32_t, 3>> cut;
    triangulate(sculpt.vertices, polygon, cut);
    for (size_t k = 0; k < cut.size(); ++k) take(first + k, p, cut[k]);
  });
}

}  // namespace juvenor
