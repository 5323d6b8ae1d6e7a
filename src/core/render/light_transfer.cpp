#include "core/render/light_transfer.h"

#include <tbb/parallel_for.h>

#include <cmath>
#include <numbers>

#include "core/surface/ray_directions.h"

namespace juvenor {
LightTransfer::LightTransfer(size_t samples) : blocked_(samples, Harmonics{}), rays_(samples, 0) {}

void LightTransfer::addRays(const Rays& rays, size_t begin, size_t end, int count,
                            const std::function<bool()>& stop) {
  const Surface& surface = rays.surface();
  const float lift = 0.05f * surface.spacing + 1e-6f * surface.bounds.diagonal();
  const float reach = surface.bounds.diagonal();
  tbb::parallel_for(tbb::blocked_range<size_t>(begin, end, 1024), [&](const auto& range) {
    if (stop && stop()) return;
    for (size_t s = range.begin(); s != range.end(); ++s) {
      const Vec3 &n = surface.normals[s], origin = surface.positions[s] + lift * n;
      for (int k = 0; k < count; ++k) {
        const Vec3 d =
            cosineDirection(n, spreadPoint(static_cast<uint32_t>(s), rays_[s] + static_cast<uint32_t>(k)));
        if (!rays.blocked({origin, d}, reach)) continue;
        const Harmonics y = harmonicsAt(d);
        for (size_t c = 0; c < 9; ++c) blocked_[s][c] += y[c];
      }
      rays_[s] = static_cast<uint16_t>(std::min(60000, rays_[s] + count));
    }
  });
}

float LightTransfer::irradiance(size_t s, const Vec3& normal, const Harmonics& light, float scatter) const {
  const Harmonics y = harmonicsAt(normal);
  // until a sample has had its first rays it counts as open
  const float perRay = rays_[s] > 0 ? std::numbers::pi_v<float> / static_cast<float>(rays_[s]) : 0.f;
  const float damp1 = std::exp(-scatter * scatter), damp2 = damp1 * damp1 * damp1;
  float sum = 0;
  for (size_t k = 0; k < 9; ++k) {
    const float damp = kBand[k] == 0 ? 1.f : kBand[k] == 1 ? damp1 : damp2;
    sum += light[k] * damp * (kCosineLobe[static_cast<size_t>(kBand[k])] * y[k] - perRay * blocked_[s][k]);
  }
  return std::max(0.f, sum / std::numbers::pi_v<float>);
}

float LightTransfer::openness(size_t s) const {
  return rays_[s] == 0 ? 1.f : 1.f - blocked_[s][0] / (0.282095f * static_cast<float>(rays_[s]));
}

}  // namespace juvenor
