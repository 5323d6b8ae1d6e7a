#include "core/surface/graph/skin_level.h"

#include "core/surface/graph/coarse_skin.h"

namespace juvenor {

SkinLevel skinLevel(std::shared_ptr<const SkinLadder> ladder, float cell) {
  SkinLevel out{std::move(ladder), 0, {}};
  while (out.level + 1 < out.ladder->graphs.size() && out.ladder->cells[out.level + 1] <= cell) ++out.level;
  if (out.level > 0) out.nodeOf = coarseSkin(out.ladder, out.level).nodeOf;
  return out;
}

std::vector<Vec3> normalsOver(const SkinLevel& level, const Surface& surface) {
  if (level.nodeOf.empty()) return surface.normals;
  std::vector<Vec3> out(level.graph().size(), Vec3::Zero());
  for (size_t s = 0; s < surface.size(); ++s) out[level.nodeOf[s]] += surface.areas[s] * surface.normals[s];
  for (Vec3& n : out) n = normalizedOr(n, Vec3::UnitY());
  return out;
}

}  // namespace juvenor
