// The places of a skin and the edges between them, whether they are samples or the nodes of a coarser graph.
#pragma once

#include <span>

#include "core/surface/graph/skin_graph.h"

namespace juvenor {

/// The neighbours of each place are ascending. What it was taken from must outlive it.
struct SkinEdges {
  std::span<const Vec3> positions;
  std::span<const uint32_t> start;  ///< places + 1 offsets into `neighbors`
  std::span<const uint32_t> neighbors;

  std::span<const uint32_t> neighborsOf(size_t place) const {
    return neighbors.subspan(start[place], start[place + 1] - start[place]);
  }
};

inline SkinEdges edgesOf(const Surface& surface) {
  return {surface.positions, surface.neighborStart, surface.neighbors};
}
inline SkinEdges edgesOf(const SkinGraph& graph) {
  return {graph.positions, graph.start, graph.neighbors};
}

}  // namespace juvenor
