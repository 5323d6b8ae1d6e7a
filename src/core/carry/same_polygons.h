// Which vertices of a changed sculpt are those of the one before: where a part has the same polygons in the
// same order, whatever places its vertices have now (a pose, a morph, a smoothed forehead).
#pragma once

#include <span>
#include <vector>

#include "core/sculpt/sculpt.h"

namespace juvenor {

struct SamePolygons {
  /// For each vertex of the new sculpt the old one, kNone where its part has other polygons.
  std::vector<uint32_t> vertex;
  /// For each part of the new sculpt the old one of the same polygons, or kNone.
  std::vector<uint32_t> part;
  bool all = false;  ///< every vertex has one, and the old one has no others
};

SamePolygons samePolygons(const Sculpt& fresh, const Sculpt& old);

}  // namespace juvenor
