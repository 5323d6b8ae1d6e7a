// The same skin with its triangles in other parts: no sample moves, joins or parts from its neighbours.
#pragma once

#include "core/surface/surface.h"

namespace juvenor {

/// `partOf`: the new part of every triangle. A sample belongs to the lowest of those around it; one without
/// triangles to the first part that lies in its own. `own`: for each new part the old one it lies in.
std::shared_ptr<const Surface> relabelled(const Surface& surface, std::vector<uint32_t> partOf,
                                          std::span<const uint32_t> own);

}  // namespace juvenor
