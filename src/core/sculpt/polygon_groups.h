// Polygons that hang together, on the skin or in a UV set: for each polygon a number its group has in common.
#pragma once

#include "core/sculpt/sculpt.h"

namespace juvenor {

/// Loose shells: polygons that share places. `placeOf`: of each vertex; coincident ones may share one.
std::vector<uint32_t> shellsOfPolygons(const Sculpt& sculpt, std::span<const uint32_t> placeOf);

/// Islands of a UV set: polygons of one part that share an edge of the skin which the layout does not cut.
/// Files repeat places, so it is their values that count. Those with a corner that has no finite place are a
/// group of their own.
std::vector<uint32_t> islandsOfPolygons(const Sculpt& sculpt, const UvSet& set);

}  // namespace juvenor
