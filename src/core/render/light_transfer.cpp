#include "core/render/light_transfer.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/parallel.h"
#include "core/surface/rays/ray_directions.h"

namespace juvenor {
LightTransfer::LightTransfer(size_t samples) : blocked_(samples), rays_(samples), first_(samples) {}

bool LightTransfer::raise(const Rays& rays, const std::set<uint32_t>& hidden, size_t begin, size_t end,
                          int count, const std::function<bool()>& stop) {
  const Surface& surface = rays.surface();
  const float lift = liftOf(surface), reach = surface.bounds.diagonal();
  return parallelUntil(begin, end, stop, [&](size_t s) {
    // (who has enough is only read, maybe by others)
    if (rays_[s] >= count) return;
    const Vec3 &n = surface.normals[s], origin = surface.positions[s] + lift * n;
    const bool enough = count > kFirstSkyRays && rays_[s] == kFirstSkyRays && isOpen(surface, s);
    for (int k = rays_[s]; k < count && !enough; ++k) {
      const Vec3 d = cosineDirection(n, spreadPoint(static_cast<uint32_t>(s), static_cast<uint32_t>(k)));
      if (!rays.blocked({origin, d}, reach, hidden)) continue;
      const Harmonics y = harmonicsAt(d);
      for (size_t c = 0; c < 9; ++c) blocked_[s][c] += y[c];
    }
    rays_[s] = static_cast<uint16_t>(count);
    // (once all have had their first rays this is only read, by whoever lies beside)
    if (count <= kFirstSkyRays && rays_[s] == kFirstSkyRays)
      first_[s] = blocked_[s][0] > 0 ? First::Met : First::Free;
  });
}

bool LightTransfer::isOpen(const Surface& surface, size_t s) const {
  return first_[s] == First::Free &&
         std::ranges::all_of(surface.neighborsOf(s), [&](uint32_t n) { return first_[n] == First::Free; });
}

Harmonics LightTransfer::seen(const Surface& surface, size_t s) const {
  // until a sample has had its first rays it counts as open
  Harmonics blocked{};
  float rays = 0;
  const auto add = [&](size_t n, float weight) {
    rays += weight * static_cast<float>(rays_[n]);
    for (size_t k = 0; k < 9; ++k) blocked[k] += weight * blocked_[n][k];
  };
  add(s, 2);
  for (const uint32_t n : surface.neighborsOf(s)) add(n, 1);
  const float perRay = rays > 0 ? std::numbers::pi_v<float> / rays : 0.f;
  const Harmonics y = harmonicsAt(surface.normals[s]);
  Harmonics out;
  for (size_t k = 0; k < 9; ++k)
    out[k] =
        (kCosineLobe[static_cast<size_t>(kBand[k])] * y[k] - perRay * blocked[k]) / std::numbers::pi_v<float>;
  return out;
}

std::array<float, 3> LightTransfer::bandsOf(const Harmonics& seen, const Harmonics& light) {
  std::array<float, 3> out{};
  for (size_t k = 0; k < 9; ++k) out[static_cast<size_t>(kBand[k])] += light[k] * seen[k];
  return out;
}

float irradianceOf(const std::array<float, 3>& bands, float scatter) {
  if (scatter == 0) return std::max(0.f, bands[0] + bands[1] + bands[2]);
  const float damp1 = std::exp(-scatter * scatter), damp2 = damp1 * damp1 * damp1;
  return std::max(0.f, bands[0] + damp1 * bands[1] + damp2 * bands[2]);
}

float LightTransfer::openness(size_t s) const {
  return rays_[s] == 0 ? 1.f : 1.f - blocked_[s][0] / (0.282095f * static_cast<float>(rays_[s]));
}

}  // namespace juvenor
