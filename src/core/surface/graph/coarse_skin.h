// A level of a ladder as a coarser skin over the samples, or over a finer level.
#pragma once

#include <memory>
#include <vector>

#include "core/cell_members.h"
#include "core/surface/graph/skin_graph.h"

namespace juvenor {

/// One level of a ladder as a coarser skin over a finer one.
struct CoarseSkin {
  std::shared_ptr<const SkinLadder> ladder;
  size_t level = 0;
  std::vector<uint32_t> nodeOf;  ///< the node over each sample, or over each node of the finer level
  CellMembers members;           ///< the other way round

  size_t bytes() const { return sizeof(uint32_t) * nodeOf.capacity() + members.bytes(); }
  const SkinGraph& graph() const { return ladder->graphs[level]; }
  float cell() const { return ladder->cells[level]; }  ///< width of a node's cell, scene units
};

/// `level` above `fine`; either is lowered to the ladder's coarsest.
CoarseSkin coarseSkin(std::shared_ptr<const SkinLadder> ladder, size_t level, size_t fine = 0);

}  // namespace juvenor
