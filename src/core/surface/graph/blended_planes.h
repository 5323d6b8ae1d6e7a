// Values of a coarse graph between its nodes: over each node the plane that fits its neighbours best, and
// from node to node blended smoothly (a partition of unity, Babuška and Melenk 1997; planes by least squares
// as in moving least squares, Lancaster and Šalkauskas 1981). Only nodes that hang together are blended.
#pragma once

#include <limits>
#include <span>

#include "core/surface/graph/skin_graph.h"

namespace juvenor {

/// How far a node's plane counts, in widths of a cell.
inline constexpr float kPlaneReach = 1.8f;

class BlendedPlanes {
 public:
  /// Stands for no value.
  static constexpr float kNothing = std::numeric_limits<float>::infinity();

  /// The plane over one node: its value there, and how it rises from there.
  struct Plane {
    Vec3 position, slope;
    float value;
  };

  /// `values`: one per node of `graph`, which must outlive this; `cell`: width of its cells; no plane is
  /// steeper than `steepest` (per scene unit).
  BlendedPlanes(const SkinGraph& graph, float cell, std::span<const float> values,
                float steepest = std::numeric_limits<float>::max());

  bool has(uint32_t node) const { return planes_[node].value != kNothing; }
  /// The values at those of `places` that `members` lists, all of them over `node`, which has a value; into
  /// the same numbers of `out`.
  void at(uint32_t node, std::span<const uint32_t> members, std::span<const Vec3> places,
          std::span<float> out) const;

 private:
  Vec3 slopeAt(size_t node) const;

  const SkinGraph& graph_;
  std::vector<Plane> planes_;
  float narrow_;
};

}  // namespace juvenor
