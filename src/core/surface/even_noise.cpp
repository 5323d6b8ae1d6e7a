// Octaves of Perlin's noise (2002), as they are or folded into ridges (Musgrave, in Ebert et al. 2003), and
// Worley's cells (1996). Each is evened by the quantiles of a sample of itself.
#include "core/surface/even_noise.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include "core/seeded.h"
#include "core/surface/noise.h"

namespace juvenor {
namespace {

constexpr int kOctaves = 4;
constexpr float kLacunarity = 2.03f, kGain = 0.55f;

// How much of a feature of a size is kept.
float kept(float size, float finest) {
  if (!(finest > 0)) return 1;
  const float t = std::clamp(size / finest - 1, 0.f, 1.f);
  return t * t * (3 - 2 * t);
}

// Around 0.
float raw(NoiseKind kind, Vec3 p, float finest, uint32_t seed) {
  if (kind == NoiseKind::Cells) {
    const float keep = kept(1, finest);
    return keep > 0 ? keep * (worley(p, seed).first - 0.5f) : 0.f;
  }
  float sum = 0, strength = 1, size = 1;
  for (int octave = 0; octave < kOctaves; ++octave) {
    const float keep = kept(size, finest);
    if (!(keep > 0)) break;
    const float n = perlin(p, seed + static_cast<uint32_t>(octave) * 101u);
    sum += keep * strength * (kind == NoiseKind::Ridged ? 0.25f - std::abs(n) : n);
    p *= kLacunarity;
    size /= kLacunarity;
    strength *= kGain;
  }
  return sum;
}

constexpr size_t kQuantiles = 512;
using Quantiles = std::array<float, kQuantiles + 1>;

Quantiles quantilesOf(NoiseKind kind) {
  constexpr size_t kProbes = 1 << 16;
  Draws draws(static_cast<uint64_t>(kind) + 1);
  std::vector<float> probes(kProbes);
  for (float& probe : probes) {
    const float x = draws.unit(), y = draws.unit(), z = draws.unit();
    probe = raw(kind, 4096 * Vec3(x, y, z), 0, 1);
  }
  std::ranges::sort(probes);
  Quantiles out;
  for (size_t q = 0; q <= kQuantiles; ++q) out[q] = probes[q * (kProbes - 1) / kQuantiles];
  return out;
}

const Quantiles& quantiles(NoiseKind kind) {
  static const std::array<Quantiles, 3> all{quantilesOf(NoiseKind::Cloud), quantilesOf(NoiseKind::Cells),
                                            quantilesOf(NoiseKind::Ridged)};
  return all[static_cast<size_t>(kind)];
}

}  // namespace

float evenNoise(NoiseKind kind, const Vec3& p, float finest, uint32_t seed) {
  const Quantiles& q = quantiles(kind);
  const float value = raw(kind, p, finest, seed);
  const auto above = static_cast<size_t>(std::ranges::upper_bound(q, value) - q.begin());
  if (above == 0) return 0;
  if (above > kQuantiles) return 1;
  const float step = q[above] - q[above - 1];
  const float part = step > 0 ? (value - q[above - 1]) / step : 0.f;
  return (static_cast<float>(above - 1) + part) / kQuantiles;
}

}  // namespace juvenor
