// Which edges of a surface's triangles are edges of the sculpt's polygons: the lines a modeller laid, without
// the diagonals that cut polygons into triangles and the edges refining added. Where refining cut a line its
// pieces are followed from end to end.
#pragma once

#include "core/surface/maps/surface_maps.h"

namespace juvenor {

/// For each triangle a bit for each edge: bit k for that from corner k to the next.
using PolygonLines = std::vector<uint8_t>;
PolygonLines polygonLines(const Sculpt& sculpt, const Surface& surface);

/// The same, remembered by the surface's maps.
Result<std::shared_ptr<const PolygonLines>> polygonLinesOf(SurfaceMaps& maps, const Sculpt& sculpt);
/// Whether they are there already.
bool arePolygonLinesReady(SurfaceMaps& maps);

}  // namespace juvenor
