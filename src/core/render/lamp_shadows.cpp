#include "core/render/lamp_shadows.h"

#include <algorithm>
#include <cmath>

#include "core/parallel.h"
#include "core/surface/rays/ray_directions.h"

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

void LampShadows::cast(const Rays& rays, const std::set<uint32_t>& hidden, size_t s, size_t l, int wanted) {
  const Surface& surface = rays.surface();
  const float lift = liftOf(surface), reach = surface.bounds.diagonal();
  const LitBy::Source& lamp = lamps_[l];
  const Vec3& n = surface.normals[s];
  const float edge = std::cos(0.5f * lamp.size);
  Count& had = rays_[s];
  // a lamp behind the horizon of the skin lights nothing, whatever stands between
  const bool below = n.dot(lamp.toward) < -std::sin(0.5f * lamp.size);
  for (int k = had.count[l]; k < wanted && !below; ++k) {
    const Vec2 u = spreadPoint(static_cast<uint32_t>(s), static_cast<uint32_t>(k));
    const Vec3 d = directionAround(lamp.toward, 1 - u.x() * (1 - edge), u.y());
    if (n.dot(d) > 0 && !rays.blocked({surface.positions[s] + lift * n, d}, reach, hidden)) ++seen_[s][l];
  }
  had.count[l] = static_cast<uint8_t>(std::max<int>(had.count[l], wanted));
}

// What the first rays of a sample and of those around it agree on needs no more of them.
bool LampShadows::isPlain(const Surface& surface, size_t s, size_t l) const {
  const First own = rays_[s].first[l];
  if (own == First::Mixed) return false;
  return std::ranges::all_of(surface.neighborsOf(s), [&](uint32_t n) {
    return rays_[n].stand[l] == stand_[l] && rays_[n].first[l] == own;
  });
}

bool LampShadows::raise(const Rays& rays, const std::set<uint32_t>& hidden, size_t begin, size_t end,
                        int count, const std::function<bool()>& stop) {
  return parallelUntil(begin, end, stop, [&](size_t s) {
    for (size_t l = 0; l < kLampCount; ++l) {
      if (lamps_[l].strength.isZero()) continue;
      Count& had = rays_[s];
      if (had.stand[l] != stand_[l]) {
        had.stand[l] = stand_[l];
        had.count[l] = seen_[s][l] = 0;
        had.first[l] = First::None;
      }
      const int wanted = std::min(count, settledRays(lamps_[l]));
      if (had.count[l] < kFirstLampRays) {
        const int first = std::min(wanted, kFirstLampRays);
        cast(rays, hidden, s, l, first);
        if (had.count[l] == std::min(kFirstLampRays, settledRays(lamps_[l])))
          had.first[l] = seen_[s][l] == 0              ? First::Dark
                         : seen_[s][l] == had.count[l] ? First::Bright
                                                       : First::Mixed;
      }
      if (wanted > had.count[l] && !isPlain(rays.surface(), s, l)) cast(rays, hidden, s, l, wanted);
    }
  });
}

std::optional<float> LampShadows::seen(const Surface& surface, size_t sample, size_t lamp) const {
  float through = 0, weights = 0;
  const auto add = [&](size_t s, float weight) {
    if (rays_[s].stand[lamp] != stand_[lamp] || rays_[s].count[lamp] == 0) return;
    through += weight * static_cast<float>(seen_[s][lamp]) / static_cast<float>(rays_[s].count[lamp]);
    weights += weight;
  };
  add(sample, 2);
  if (weights == 0) return std::nullopt;
  for (const uint32_t n : surface.neighborsOf(sample)) add(n, 1);
  return through / weights;
}

}  // namespace juvenor
