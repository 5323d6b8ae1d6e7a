// Distance along the skin over many samples: near the place by fast marching over the samples themselves,
// farther out by a front over a coarser skin, brought down to the samples as planes blended between its nodes
// (a partition of unity, Babuška and Melenk 1997). The time follows the reach in cells, not the density of
// points, but for one look at every sample.
#pragma once

#include <memory>

#include "core/cell_members.h"
#include "core/surface/distance/distance.h"
#include "core/surface/graph/skin_graph.h"

namespace juvenor {

/// One level of a ladder as a coarser skin over a finer one.
struct CoarseSkin {
  std::shared_ptr<const SkinLadder> ladder;
  size_t level = 0;
  std::vector<uint32_t> nodeOf;  ///< the node over each sample, or over each node of the finer level
  CellMembers members;           ///< the other way round

  const SkinGraph& graph() const { return ladder->graphs[level]; }
  float cell() const { return ladder->cells[level]; }  ///< width of a node's cell, scene units
};

/// `level` above `fine`; either is lowered to the ladder's coarsest.
CoarseSkin coarseSkin(std::shared_ptr<const SkinLadder> ladder, size_t level, size_t fine = 0);

/// As `distancesFrom` the sources over the fine skin alone; the mean error grows by about a hundredth of a
/// cell and 0.5 % of the distance.
Distances distancesFrom(const SkinEdges& fine, const CoarseSkin& coarse,
                        std::span<const DistanceSource> sources, float reach);

}  // namespace juvenor
