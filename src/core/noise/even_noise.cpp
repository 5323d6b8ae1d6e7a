// Each kind is evened by the quantiles of a sample of itself, kept as a table of how much lies below a value.
#include "core/noise/even_noise.h"

#include <algorithm>

#include "core/seeded.h"

namespace juvenor {
namespace {

// The part of all values below `low + i / scale`; between the steps it is straight.
struct Shares {
  static constexpr size_t kSteps = 1024;
  float low, scale;
  std::array<float, kSteps + 2> below;

  float of(float value) const {
    const float at = std::clamp((value - low) * scale, 0.f, static_cast<float>(kSteps));
    const auto step = static_cast<size_t>(at);
    return below[step] + (at - static_cast<float>(step)) * (below[step + 1] - below[step]);
  }
};

Shares sharesOf(NoiseKind kind) {
  constexpr size_t kProbes = 1 << 17;
  Draws draws(static_cast<uint64_t>(kind) + 1);
  PlaceRow places(kProbes);
  for (size_t i = 0; i < kProbes; ++i) {
    const float x = draws.unit(), y = draws.unit(), z = draws.unit();
    places.set(i, 4096 * Vec3(x, y, z));
  }
  std::vector<float> probes = rawNoise(kind, places, 1, {}, 1);
  std::ranges::sort(probes);
  Shares out{probes.front(), Shares::kSteps / (probes.back() - probes.front()), {}};
  for (size_t i = 0; i <= Shares::kSteps; ++i) {
    const float edge = out.low + static_cast<float>(i) / out.scale;
    const auto count = std::ranges::lower_bound(probes, edge) - probes.begin();
    out.below[i] = static_cast<float>(count) / kProbes;
  }
  out.below[Shares::kSteps] = out.below[Shares::kSteps + 1] = 1;
  return out;
}

const Shares& shares(NoiseKind kind) {
  static const std::array<Shares, 3> all{sharesOf(NoiseKind::Cloud), sharesOf(NoiseKind::Cells),
                                         sharesOf(NoiseKind::Ridged)};
  return all[static_cast<size_t>(kind)];
}

}  // namespace

std::vector<float> evenNoise(NoiseKind kind, const PlaceRow& places, float size, std::span<const float> apart,
                             uint32_t seed) {
  const Shares& known = shares(kind);
  std::vector<float> out = rawNoise(kind, places, size, apart, seed);
  for (float& value : out) value = known.of(value);
  return out;
}

}  // namespace juvenor
