#include "core/surface/build/search.h"

#include <algorithm>

namespace juvenor {
namespace {

// Calls `visit(sample, squared distance)` for samples of boxes nearer than `reach2()`, which may shrink
// meanwhile.
template <class Reach, class Visit>
void visitNear(const Surface& surface, const Vec3& point, Reach reach2, Visit visit) {
  for (size_t g = 0; g < surface.groups.size(); ++g) {
    if (surface.groups[g].squaredDistance(point) > reach2()) continue;
    const size_t blockEnd = std::min(surface.blocks.size(), (g + 1) * 16);
    for (size_t b = g * 16; b < blockEnd; ++b) {
      if (surface.blocks[b].squaredDistance(point) > reach2()) continue;
      const size_t end = std::min(surface.size(), (b + 1) * kBlockSize);
      for (size_t s = b * kBlockSize; s < end; ++s)
        visit(static_cast<uint32_t>(s), (surface.positions[s] - point).squaredNorm());
    }
  }
}

}  // namespace

std::optional<uint32_t> nearestSample(const Surface& surface, const Vec3& point, float reach, uint32_t part) {
  std::optional<uint32_t> best;
  float best2 = reach * reach;
  visitNear(
      surface, point, [&] { return best2; },
      [&](uint32_t s, float d2) {
        if ((part == kNone || surface.parts[s] == part) && (d2 < best2 || (!best && d2 <= best2))) {
          best = s;
          best2 = d2;
        }
      });
  return best;
}

void samplesWithin(const Surface& surface, const Vec3& center, float radius, std::vector<uint32_t>& out) {
  const float r2 = radius * radius;
  visitNear(
      surface, center, [&] { return r2; },
      [&](uint32_t s, float d2) {
        if (d2 <= r2) out.push_back(s);
      });
}

}  // namespace juvenor
