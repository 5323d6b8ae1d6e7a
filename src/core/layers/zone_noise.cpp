// Perlin's noise (2002) in scene units, so that it is the same for every density of points.
#include "core/layers/zone_noise.h"

#include <algorithm>

#include "core/surface/noise.h"

namespace juvenor {

ZoneNoise::ZoneNoise(std::shared_ptr<const Surface> surface, float grain)
    : surface_(std::move(surface)),
      grain_(std::max(grain, 1e-6f)),
      asked_(chunkCount(surface_->size())),
      chunks_(asked_.size()) {}

ZoneNoise::Value ZoneNoise::at(uint32_t sample) const {
  const size_t c = sample / kChunkSize, i = sample % kChunkSize;
  std::call_once(asked_[c], [&] { chunks_[c] = workedOut(c); });
  return {static_cast<float>(chunks_[c]->edge[i]) / 32767.f,
          static_cast<float>(chunks_[c]->mottle[i]) / 65535.f};
}

std::unique_ptr<const ZoneNoise::Chunk> ZoneNoise::workedOut(size_t chunk) const {
  auto out = std::make_unique<Chunk>();
  const size_t first = chunk * kChunkSize, end = std::min(surface_->size(), first + kChunkSize);
  for (size_t s = first; s < end; ++s) {
    const Vec3 p = surface_->positions[s] / grain_;
    const float edge = std::clamp(fractal(p, 3, 11), -1.f, 1.f),
                mottle = std::clamp(0.5f + 0.9f * fractal(1.7f * p, 2, 47), 0.f, 1.f);
    out->edge[s - first] = static_cast<int16_t>(std::lround(32767.f * edge));
    out->mottle[s - first] = static_cast<uint16_t>(65535.f * mottle + 0.5f);
  }
  return out;
}

}  // namespace juvenor
