// A part of a graph as a graph of its own, so that what flows over a part costs only that part.
#pragma once

#include <span>

#include "core/surface/graph/skin_graph.h"

namespace juvenor {

/// The number each node has among `nodes` (ascending), kNone for the others; one a node of a graph of `size`.
std::vector<uint32_t> numbersOf(std::span<const uint32_t> nodes, size_t size);

/// The part of `whole` over the nodes numbered by `numbers`. Edges that leave it are cut; nodes keep their
/// whole area, as if what lies outside held nothing.
SkinGraph pieceOf(const SkinGraph& whole, std::span<const uint32_t> nodes, std::span<const uint32_t> numbers);

}  // namespace juvenor
