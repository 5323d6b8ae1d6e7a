// Perlin's noise (2002) in scene units, so that it is the same for every density of points.
#include "core/layers/zone_noise.h"

#include <algorithm>

#include "core/surface/noise.h"

namespace juvenor {

ZoneNoise::ZoneNoise(std::shared_ptr<const std::vector<Vec3>> places, float grain)
    : places_(std::move(places)),
      grain_(std::max(grain, 1e-6f)),
      asked_(chunkCount(places_->size())),
      chunks_(asked_.size()) {}

const ZoneNoise::Chunk& ZoneNoise::chunk(size_t index) const {
  std::call_once(asked_[index], [&] { chunks_[index] = workedOut(index); });
  return *chunks_[index];
}

std::unique_ptr<const ZoneNoise::Chunk> ZoneNoise::workedOut(size_t chunk) const {
  auto out = std::make_unique<Chunk>();
  const size_t first = chunk * kChunkSize, end = std::min(places_->size(), first + kChunkSize);
  for (size_t s = first; s < end; ++s) {
    const Vec3 p = (*places_)[s] / grain_;
    const float edge = std::clamp(fractal(p, 3, 11), -1.f, 1.f),
                mottle = std::clamp(0.5f + 0.9f * fractal(1.7f * p, 2, 47), 0.f, 1.f);
    out->edge[s - first] = static_cast<int16_t>(std::lround(32767.f * edge));
    out->mottle[s - first] = static_cast<uint16_t>(65535.f * mottle + 0.5f);
  }
  return out;
}

}  // namespace juvenor
