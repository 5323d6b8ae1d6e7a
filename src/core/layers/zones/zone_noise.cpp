// Perlin's noise (2002) in scene units, so that it is the same for every density of points.
#include "core/layers/zones/zone_noise.h"

#include <algorithm>

#include "core/noise/noise.h"

namespace juvenor {

namespace {

// As many members of a node are enough for its mean.
constexpr size_t kMembers = 8;

ZoneNoise::Value noiseAt(const Vec3& place, float grain) {
  const Vec3 p = place / grain;
  return {std::clamp(fractal(p, 3, 11), -1.f, 1.f),
          std::clamp(0.5f + 0.9f * fractal(1.7f * p, 2, 47), 0.f, 1.f)};
}

}  // namespace

ZoneNoise::ZoneNoise(std::shared_ptr<const Surface> surface, std::shared_ptr<const CoarseSkin> nodes,
                     float grain)
    : surface_(std::move(surface)),
      nodes_(std::move(nodes)),
      grain_(std::max(grain, 1e-6f)),
      asked_(chunkCount(size())),
      chunks_(asked_.size()) {}

const ZoneNoise::Chunk& ZoneNoise::chunk(size_t index) const {
  std::call_once(asked_[index], [&] {
    chunks_[index] = workedOut(index);
    ++made_;
  });
  return *chunks_[index];
}

std::unique_ptr<const ZoneNoise::Chunk> ZoneNoise::workedOut(size_t chunk) const {
  auto out = std::make_unique<Chunk>();
  // it lies on the skin whichever way the sculpt stands
  const Eigen::Matrix3f back = surface_->turn.transpose();
  const size_t first = chunk * kChunkSize, end = std::min(size(), first + kChunkSize);
  for (size_t place = first; place < end; ++place) {
    const auto self = static_cast<uint32_t>(place);
    const auto members = nodes_ ? nodes_->members.of(place) : std::span(&self, 1);
    const size_t count = std::min(kMembers, members.size());
    Value sum{};
    for (size_t k = 0; k < count; ++k) {
      const Value n = noiseAt(back * surface_->positions[members[k * members.size() / count]], grain_);
      sum.edge += n.edge / static_cast<float>(count);
      sum.mottle += n.mottle / static_cast<float>(count);
    }
    out->edge[place - first] = static_cast<int16_t>(std::lround(32767.f * sum.edge));
    out->mottle[place - first] = static_cast<uint16_t>(65535.f * sum.mottle + 0.5f);
  }
  return out;
}

}  // namespace juvenor
