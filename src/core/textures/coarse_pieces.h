// Where a fine mesh is to be cut, found on a coarse one: what takes long is laying large pieces flat only to
// see that they do not lie well, and for that a twentieth of the triangles will do.
#pragma once

#include "core/textures/cut_charts.h"

namespace juvenor {

/// Pieces of all triangles, cut as `cutFlat` would for that stretch; no more than what hangs together where
/// the mesh has five times `triangles` at most itself. `hidden` as for `chartMesh`. The coarse mesh is by
/// collapsed edges (quadrics of Garland and Heckbert 1997, by meshoptimizer), whose points are points of the
/// fine one; borders follow its edges.
Result<Pieces> coarsePieces(const ChartMesh& mesh, std::span<const float> hidden, size_t triangles,
                            float mostStretch, const Progress& progress = {});

}  // namespace juvenor
