#include "core/render/lamp_shadows.h"

#include <tbb/parallel_for.h>

#include <atomic>
#include <cmath>

#include "core/surface/ray_directions.h"

namespace juvenor {

void LampShadows::setLamps(const std::array<LitBy::Source, kLampCount>& lamps) {
  for (size_t l = 0; l < kLampCount; ++l)
    if (lamps[l].toward != lamps_[l].toward || lamps[l].size != lamps_[l].size) {
      // 0 stands for a sample nothing was cast for
      stand_[l] = static_cast<uint16_t>(stand_[l] % 65535 + 1);
    }
  lamps_ = lamps;
}

int LampShadows::settledRays(const LitBy::Source& lamp) {
  return lamp.strength.isZero() ? 0 : lamp.size < 0.02f ? 1 : lamp.size < 0.4f ? 8 : 16;
}

bool LampShadows::raise(const Rays& rays, size_t begin, size_t end, int count,
                        const std::function<bool()>& stop) {
  const Surface& surface = rays.surface();
  const float lift = liftOf(surface), reach = surface.bounds.diagonal();
  std::atomic<bool> stopped = false;
  tbb::parallel_for(tbb::blocked_range<size_t>(begin, end, 64), [&](const auto& range) {
    if (!stopped && stop && stop()) stopped = true;
    if (stopped) return;
    for (size_t s = range.begin(); s != range.end(); ++s)
      for (size_t l = 0; l < kLampCount; ++l) {
        const LitBy::Source& lamp = lamps_[l];
        const int wanted = std::min(count, settledRays(lamp));
        Count& had = rays_[s];
        if (had.stand[l] != stand_[l]) {
          had.stand[l] = stand_[l];
          had.count[l] = seen_[s][l] = 0;
        }
        const Vec3& n = surface.normals[s];
        const float edge = std::cos(0.5f * lamp.size);
        // a lamp behind the horizon of the skin lights nothing, whatever stands between
        const bool below = n.dot(lamp.toward) < -std::sin(0.5f * lamp.size);
        for (int k = had.count[l]; k < wanted && !below; ++k) {
          const Vec2 u = spreadPoint(static_cast<uint32_t>(s), static_cast<uint32_t>(k));
          const Vec3 d = directionAround(lamp.toward, 1 - u.x() * (1 - edge), u.y());
          if (n.dot(d) > 0 && !rays.blocked({surface.positions[s] + lift * n, d}, reach)) ++seen_[s][l];
        }
        had.count[l] = static_cast<uint8_t>(std::max<int>(had.count[l], wanted));
      }
  });
  return !stopped;
}

std::optional<float> LampShadows::seen(const Surface& surface, size_t sample, size_t lamp) const {
  float through = 0, rays = 0;
  const auto add = [&](size_t s, float weight) {
    if (rays_[s].stand[lamp] != stand_[lamp]) return;
    through += weight * static_cast<float>(seen_[s][lamp]);
    rays += weight * static_cast<float>(rays_[s].count[lamp]);
  };
  if (rays_[sample].stand[lamp] != stand_[lamp] || rays_[sample].count[lamp] == 0) return std::nullopt;
  add(sample, 2);
  for (const uint32_t n : surface.neighborsOf(sample)) add(n, 1);
  return through / rays;
}

}  // namespace juvenor
