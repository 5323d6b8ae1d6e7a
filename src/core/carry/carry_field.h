// The values of a field on another skin: what the correspondence says, chunk by chunk, and where nothing is
// known what flows in from around.
#pragma once

#include <cmath>

#include "core/carry/correspondence.h"
#include "core/carry/unknown_skin.h"
#include "core/parallel.h"
#include "core/surface/field.h"

namespace juvenor {

/// A field of the old surface on the new one. Where all of a sample's sources hold the same, it holds that to
/// the bit. Chunks that would hold nothing but the default stay unwritten.
template <int Planes>
Field<Planes> carriedField(const Field<Planes>& before, const Correspondence& from,
                           const UnknownSkin& unknown) {
  Field<Planes> after(from.size(), before.fallback());
  if (!before.holdsAny()) return after;
  after.makeRoom();
  parallelEach(after.chunkCount(), [&](size_t c) {
    const size_t begin = c * kChunkSize, end = std::min(from.size(), begin + kChunkSize);
    bool any = false;
    for (uint32_t i = from.start[begin]; i < from.start[end] && !any; ++i)
      any = before.chunk(from.sample[i] / kChunkSize) != nullptr;
    if (!any) return;
    auto fresh = after.writable(c);
    for (size_t s = begin; s < end; ++s) {
      if (!from.has(s)) continue;
      std::array<float, Planes> sum{};
      for (uint32_t i = from.start[s]; i < from.start[s + 1]; ++i) {
        const size_t o = from.sample[i];
        const auto& chunk = before.chunk(o / kChunkSize);
        for (int p = 0; p < Planes; ++p)
          sum[p] += from.weight[i] * (chunk ? chunk->plane[p][o % kChunkSize] : before.fallback()[p]);
      }
      for (int p = 0; p < Planes; ++p)
        fresh->plane[p][s - begin] = static_cast<uint16_t>(std::clamp(sum[p] + 0.5f, 0.f, 65535.f));
    }
    after.setChunk(c, std::move(fresh));
  });
  unknown.fill(after);
  return after;
}

}  // namespace juvenor
