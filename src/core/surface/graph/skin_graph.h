// The surface, or a piece of it, as a graph on which things can flow: every node has an area, every edge a
// weight (the length of the border two nodes share over their distance). Over it a ladder of coarser graphs:
// nodes of one cell of space that hang together along the skin become one node, so that nothing ever crosses
// a gap (aggregation as in algebraic multigrid; weights by two-point flux, cf. Eymard, Gallouët, Herbin
// 2000).
#pragma once

#include "core/surface/surface.h"

namespace juvenor {

struct SkinGraph {
  std::vector<Vec3> positions;
  std::vector<float> areas;     ///< scene units squared, above 0
  std::vector<uint32_t> start;  ///< nodes + 1 offsets into the two below
  std::vector<uint32_t> neighbors;
  std::vector<float> weights;  ///< of each directed edge, symmetric, not below 0

  size_t size() const { return positions.size(); }
};

/// The cotangents of the angles across an edge, and how many triangles lie on it.
struct Cotangents {
  float sum = 0;
  int sides = 0;
};
Cotangents cotangentsAcross(const Surface& surface, uint32_t a, uint32_t b);

/// The whole surface: node i is sample i. Edge weights are the cotangents of the angles across (Pinkall and
/// Polthier 1993), kept within 0…8.
SkinGraph skinGraph(const Surface& surface);

struct SkinLadder {
  std::vector<SkinGraph> graphs;               ///< finest first
  std::vector<std::vector<uint32_t>> coarser;  ///< for each graph but the last: the node above each node
  std::vector<float> cells;                    ///< width of a node's cell, scene units
};

/// Coarser and coarser graphs over one, each cell twice as wide, until few nodes are left.
SkinLadder skinLadder(SkinGraph finest, float spacing);

}  // namespace juvenor
