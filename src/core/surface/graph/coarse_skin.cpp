#include "core/surface/graph/coarse_skin.h"

#include <algorithm>

#include "core/parallel.h"

namespace juvenor {

CoarseSkin coarseSkin(std::shared_ptr<const SkinLadder> ladder, size_t level, size_t fine) {
  CoarseSkin out;
  out.level = std::min(level, ladder->graphs.size() - 1);
  const size_t lowest = std::min(fine, out.level);
  out.nodeOf.resize(ladder->graphs[lowest].size());
  parallel(out.nodeOf.size(), [&](size_t s) {
    auto node = static_cast<uint32_t>(s);
    for (size_t k = lowest; k < out.level; ++k) node = ladder->coarser[k][node];
    out.nodeOf[s] = node;
  });
  out.members = CellMembers(out.nodeOf, ladder->graphs[out.level].size());
  out.ladder = std::move(ladder);
  return out;
}

}  // namespace juvenor
