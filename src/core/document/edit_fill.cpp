#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/document/edits.h"

namespace juvenor {
namespace {

// Every value moved `strength` of the way to the target, where the part is wanted.
template <int Planes>
Field<Planes> moved(const Field<Planes>& before, const Surface& surface,
                    const std::array<uint16_t, Planes>& target, float strength, uint32_t part) {
  Field<Planes> out = before;
  tbb::parallel_for(size_t{0}, out.chunkCount(), [&](size_t c) {
    const size_t begin = c * kChunkSize, end = std::min(surface.size(), begin + kChunkSize);
    const auto wanted = [&](size_t s) { return part == kNone || surface.parts[s] == part; };
    bool any = false;
    for (size_t s = begin; s < end && !any; ++s) any = wanted(s);
    if (!any) return;
    auto chunk = before.writable(c);
    for (size_t s = begin; s < end; ++s) {
      if (!wanted(s)) continue;
      for (int p = 0; p < Planes; ++p) {
        uint16_t& v = chunk->plane[p][s - begin];
        const float from = v;
        v = static_cast<uint16_t>(from + (static_cast<float>(target[p]) - from) * strength + 0.5f);
      }
    }
    out.setChunk(c, std::move(chunk));
  });
  return out;
}

}  // namespace

Result<Document> withFilled(const Document& document, uint32_t id, const EncodedColor& color, float strength,
                            uint32_t part) {
  const Outcome ok = paintable(document, id, false);
  if (!ok) return ok.error();
  const Rgba16 c = opaque16(color);
  const ColorField& before = *layerOf(document, id)->source->painted();
  return withPainted(
      document, id,
      moved<4>(before, *document.surface, {c.r, c.g, c.b, c.a}, std::clamp(strength, 0.f, 1.f), part));
}

Result<Document> withMaskFilled(const Document& document, uint32_t id, float value, float strength,
                                uint32_t part) {
  const Outcome ok = paintable(document, id, true);
  if (!ok) return ok.error();
  return withMaskField(document, id,
                       moved<1>(*layerOf(document, id)->mask, *document.surface, {to16(value)},
                                std::clamp(strength, 0.f, 1.f), part));
}

}  // namespace juvenor
