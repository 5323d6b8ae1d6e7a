#include "core/layers/filters/grown_mask.h"

#include <limits>

#include "core/surface/distance/distance.h"

namespace juvenor {
namespace {

// The places right beyond the rim, each with its way to it: those that hide next to ones that show, or the
// other way round.
std::vector<DistanceSeed> beyondTheRim(const SkinEdges& skin, std::span<const float> values, bool hidden) {
  std::vector<DistanceSeed> out;
  for (uint32_t s = 0; s < values.size(); ++s) {
    if ((values[s] < 0.5f) != hidden) continue;
    float nearest = std::numeric_limits<float>::infinity();
    for (const uint32_t n : skin.neighborsOf(s)) {
      if ((values[n] < 0.5f) == hidden) continue;
      const float part = (0.5f - values[s]) / (values[n] - values[s]);
      nearest = std::min(nearest, part * (skin.positions[n] - skin.positions[s]).norm());
    }
    if (std::isfinite(nearest)) out.push_back({s, nearest});
  }
  return out;
}

}  // namespace

void growMask(const SkinEdges& skin, std::span<float> values, float way, float edge) {
  if (way == 0) return;
  const bool grows = way > 0;
  const float reach = std::abs(way);
  const Distances near = distancesFrom(skin, beyondTheRim(skin, values, grows), reach + edge);
  for (size_t k = 0; k < near.samples.size(); ++k) {
    const float covered = std::clamp((reach - near.values[k]) / edge + 0.5f, 0.f, 1.f);
    float& v = values[near.samples[k]];
    v = grows ? std::max(v, covered) : std::min(v, 1 - covered);
  }
}

}  // namespace juvenor
