// Splinters laid onto the chart beside them: where a chart was cut small because it lay over itself or
// folded, what came off mostly fits its other neighbours as it is.
#pragma once

#include "core/textures/flatten.h"

namespace juvenor {

/// Charts of fewer than `small` triangles become part of the neighbour they share most of their border with
/// and to which they can be laid by turning and moving alone: nothing turns over, nothing comes to lie over
/// what is there, and no triangle is drawn out much.
Result<std::vector<FlatChart>> withSplintersAttached(const ChartMesh& mesh, std::vector<FlatChart> charts,
                                                     size_t small, const Progress& progress = {});

}  // namespace juvenor
