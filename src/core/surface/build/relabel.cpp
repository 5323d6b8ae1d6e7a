#include "core/surface/build/relabel.h"

#include <algorithm>

namespace juvenor {

std::shared_ptr<const Surface> relabelled(const Surface& surface, std::vector<uint32_t> partOf,
                                          std::span<const uint32_t> own) {
  auto out = std::make_shared<Surface>(surface);
  std::vector<uint32_t>& parts = out->parts;
  std::ranges::fill(parts, kNone);
  for (size_t t = 0; t < partOf.size(); ++t)
    for (const uint32_t s : surface.triangles[t]) parts[s] = std::min(parts[s], partOf[t]);
  for (size_t s = 0; s < parts.size(); ++s) {
    if (parts[s] != kNone) continue;
    const auto first = std::ranges::find(own, surface.parts[s]);
    parts[s] = first == own.end() ? 0 : static_cast<uint32_t>(first - own.begin());
  }
  out->triangleParts = std::move(partOf);
  out->partCount = static_cast<uint32_t>(own.size());
  return out;
}

}  // namespace juvenor
