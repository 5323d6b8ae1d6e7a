#include <algorithm>

#include "core/document/edits/edits.h"
#include "core/surface/map_field.h"

namespace juvenor {

Result<Document> withLassoOnMask(const Document& document, uint32_t id, const ScalarField& inside,
                                 bool takesAway) {
  const auto mask = maskFieldOf(document, id);
  if (!mask && (takesAway || (id != kGuard && !layerOf(document, id)))) return mask.error();
  const ScalarField before = mask ? *mask : openMask(document.surface->size());
  if (inside.size() != before.size()) return Error{"the outline was drawn on a skin of other points"};
  ScalarField out = mapField(before, [&](size_t c, size_t begin, size_t end) -> ScalarField::Pointer {
    const auto& in = inside.chunk(c);
    if (!in) return nullptr;
    auto chunk = before.writable(c);
    for (size_t i = 0; i < end - begin; ++i) {
      uint16_t& v = chunk->plane[0][i];
      const uint16_t w = in->plane[0][i];
      v = takesAway ? std::max(v, w) : std::min(v, static_cast<uint16_t>(65535 - w));
    }
    return chunk;
  });
  return withMaskField(document, id, std::move(out));
}

}  // namespace juvenor
