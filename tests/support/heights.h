// What a layer brings of relief and gloss to each sample.
#pragma once

#include "core/layers/source.h"

namespace juvenor::test {

/// Scene units.
inline std::vector<float> heightsOf(const PreparedSource& made, SurfaceMaps& maps) {
  std::vector<float> out;
  for (size_t c = 0; c < chunkCount(maps.size()); ++c) {
    const auto heights = made.heights(Channel::Relief, c);
    for (size_t i = 0; i < std::min(kChunkSize, maps.size() - c * kChunkSize); ++i)
      out.push_back(heights ? heightOf(heights->plane[0][i], maps.reliefStep()) : 0);
  }
  return out;
}

/// 0…1, of what covers; 0 where nothing does.
inline std::vector<float> glossOf(const PreparedSource& made, SurfaceMaps& maps) {
  std::vector<float> out;
  for (size_t c = 0; c < chunkCount(maps.size()); ++c) {
    const auto gloss = made.covers(Channel::Gloss, c);
    for (size_t i = 0; i < std::min(kChunkSize, maps.size() - c * kChunkSize); ++i) {
      const uint16_t cover = gloss ? gloss->plane[1][i] : 0;
      out.push_back(cover ? static_cast<float>(gloss->plane[0][i]) / cover : 0);
    }
  }
  return out;
}

}  // namespace juvenor::test
