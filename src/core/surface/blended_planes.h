// Values of a coarse graph between its nodes: over each node the plane that fits its neighbours best, and
// from node to node blended smoothly (a partition of unity, Babuška and Melenk 1997; planes by least squares
// as in moving least squares, Lancaster and Šalkauskas 1981). Only nodes that hang together are blended.
#pragma once

#include <limits>

#include "core/surface/skin_graph.h"

namespace juvenor {

/// How far a node's plane counts, in widths of a cell.
inline constexpr float kPlaneReach = 1.8f;

class BlendedPlanes {
 public:
  /// Stands for no value.
  static constexpr float kNothing = std::numeric_limits<float>::infinity();

  /// `values`: one per node of `graph`, which must outlive this; `cell`: width of its cells; no plane is
  /// steeper than `steepest` (per scene unit).
  BlendedPlanes(const SkinGraph& graph, float cell, std::vector<float> values,
                float steepest = std::numeric_limits<float>::max());

  /// The value at a place that belongs to `node`; kNothing where the node has none.
  float at(uint32_t node, const Vec3& place) const;

 private:
  Vec3 slopeAt(size_t node) const;

  const SkinGraph& graph_;
  std::vector<float> values_;
  std::vector<Vec3> slopes_;
  float narrow_;
};

}  // namespace juvenor
