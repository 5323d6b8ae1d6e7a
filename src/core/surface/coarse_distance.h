// Distance along the skin over many samples: near the place by the wave front over the samples themselves,
// farther out by a front over a coarser skin, brought down to the samples as planes blended between its nodes
// (a partition of unity, Babuška and Melenk 1997). The time follows the reach in cells, not the density of
// points, but for one look at every sample.
#pragma once

#include <memory>

#include "core/surface/distance.h"
#include "core/surface/skin_graph.h"

namespace juvenor {

/// One level of a ladder as a skin of its own.
struct CoarseSkin {
  std::shared_ptr<const SkinLadder> ladder;
  size_t level = 0;
  std::vector<uint32_t> nodeOf;   ///< the node over each sample
  std::vector<uint32_t> members;  ///< how many samples each node stands for

  const SkinGraph& graph() const { return ladder->graphs[level]; }
  float cell() const { return ladder->cells[level]; }  ///< width of a node's cell, scene units
};

CoarseSkin coarseSkin(std::shared_ptr<const SkinLadder> ladder, size_t level);

/// As `distancesFrom` the nearest of the places over the surface alone; the mean error grows by about a
/// hundredth of a cell and 0.5 % of the distance.
Distances distancesFrom(const Surface& surface, const CoarseSkin& coarse, std::span<const Vec3> places,
                        uint32_t part, float reach);

}  // namespace juvenor
