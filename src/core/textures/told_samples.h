// What a map says of the samples of a skin, on its way into a field.
#pragma once

#include "core/parallel.h"
#include "core/surface/field.h"
#include "core/textures/map_pyramid.h"

namespace juvenor {

struct ToldSamples {
  std::vector<MapPyramid::Values> values;
  std::vector<uint8_t> places;  ///< of each sample in how many places it is told of; 0: nothing is said

  explicit ToldSamples(size_t samples) : values(samples, MapPyramid::Values{}), places(samples, 0) {}
  bool any() const {
    return std::ranges::any_of(places, [](uint8_t n) { return n > 0; });
  }
  /// From sums over places to their mean.
  void settle() {
    parallel(values.size(), [&](size_t s) {
      for (float& v : values[s])
        if (places[s] > 1) v /= places[s];
    });
  }
};

/// Sets the samples of a field that are told of; `valueOf(sample)` is what they hold then.
template <int Planes, class ValueOf>
void put(Field<Planes>& field, const ToldSamples& told, ValueOf valueOf) {
  field.makeRoom();
  parallel(
      field.chunkCount(),
      [&](size_t c) {
        const size_t begin = c * kChunkSize, end = std::min(field.size(), begin + kChunkSize);
        std::shared_ptr<Chunk<Planes>> chunk;
        for (size_t s = begin; s < end; ++s) {
          if (told.places[s] == 0) continue;
          if (!chunk) chunk = field.writable(c);
          const std::array<uint16_t, Planes> value = valueOf(s);
          for (size_t p = 0; p < Planes; ++p) chunk->plane[p][s - begin] = value[p];
        }
        if (chunk) field.setChunk(c, std::move(chunk));
      },
      1);
}

}  // namespace juvenor
