// A part of a ladder as a ladder of its own, so that what flows over a part costs only that part.
#pragma once

#include "core/surface/skin_graph.h"

namespace juvenor {

/// The part of `whole` over some nodes of its finest graph (ascending), up to cells of width `widest`. Edges
/// that leave it are cut; nodes keep their whole area, as if what lies outside held nothing. Its finest graph
/// has edges only when it is the only one.
SkinLadder pieceOf(const SkinLadder& whole, std::span<const uint32_t> nodes, float widest);

}  // namespace juvenor
