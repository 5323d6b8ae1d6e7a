// One level of a ladder as ground to work on: the finest whose cells are no wider than asked, so that the
// work follows the size of what is made and not the density of points.
#pragma once

#include <memory>

#include "core/surface/graph/skin_graph.h"

namespace juvenor {

struct SkinLevel {
  std::shared_ptr<const SkinLadder> ladder;
  size_t level = 0;
  std::vector<uint32_t> nodeOf;  ///< the node over each sample; empty where nodes are samples

  const SkinGraph& graph() const { return ladder->graphs[level]; }
  float cell() const { return ladder->cells[level]; }  ///< scene units
  uint32_t over(uint32_t sample) const { return nodeOf.empty() ? sample : nodeOf[sample]; }
};

/// The coarsest level whose cells are no wider than `cell` (scene units), or the samples.
SkinLevel skinLevel(std::shared_ptr<const SkinLadder> ladder, float cell);

/// Unit normals of its nodes: the mean over what lies under each.
std::vector<Vec3> normalsOver(const SkinLevel& level, const Surface& surface);

}  // namespace juvenor
