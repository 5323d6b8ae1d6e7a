// Values of a field on the samples that refining added.
#pragma once

#include "core/surface/build/refine.h"
#include "core/surface/field.h"

namespace juvenor {

/// A field carried over to a refined surface: each new sample is the mix its origin names.
template <int Planes>
Field<Planes> refinedField(const Field<Planes>& before, const std::vector<Origin>& origins) {
  Field<Planes> after(origins.size(), before.fallback());
  for (size_t chunk = 0; chunk < after.chunkCount(); ++chunk) {
    const size_t begin = chunk * kChunkSize, end = std::min(origins.size(), begin + kChunkSize);
    bool any = false;
    for (size_t s = begin; s < end && !any; ++s)
      for (const uint32_t o : origins[s].sample) any |= before.chunk(o / kChunkSize) != nullptr;
    if (!any) continue;
    auto fresh = after.writable(chunk);
    for (size_t s = begin; s < end; ++s)
      for (int p = 0; p < Planes; ++p) {
        float sum = 0;
        for (int k = 0; k < 3; ++k)
          if (origins[s].weight[k] > 0) sum += origins[s].weight[k] * before.at(origins[s].sample[k])[p];
        fresh->plane[p][s - begin] = static_cast<uint16_t>(sum + 0.5f);
      }
    after.setChunk(chunk, std::move(fresh));
  }
  return after;
}

}  // namespace juvenor
