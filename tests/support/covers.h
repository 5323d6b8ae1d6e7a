// What a layer brings to each sample, with one grey of mask over all of it.
#pragma once

#include "core/layers/source.h"

namespace juvenor::test {

/// How much of its colour, 0…1 each.
inline std::vector<float> coversOf(const LayerSource& source, SurfaceMaps& maps, float mask = 1) {
  const auto made = *source.prepare(maps);
  std::vector<float> out;
  const auto below = std::make_unique<ColorChunk>();
  const auto shown = std::make_unique<ScalarChunk>();
  shown->plane[0].fill(to16(mask));
  for (size_t c = 0; c < chunkCount(maps.size()); ++c) {
    const auto colors = made->colors({c, mask < 1 ? shown.get() : nullptr}, *below);
    for (size_t i = 0; i < std::min(kChunkSize, maps.size() - c * kChunkSize); ++i)
      out.push_back(from16(colors->plane[3][i]));
  }
  return out;
}

}  // namespace juvenor::test
