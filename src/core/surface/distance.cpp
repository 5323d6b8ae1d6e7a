#include "core/surface/distance.h"

#include "core/surface/search.h"
#include "core/surface/wave_front.h"

namespace juvenor {
namespace {

SkinEdges edgesOf(const Surface& surface) {
  return {surface.positions, surface.neighborStart, surface.neighbors};
}

}  // namespace

Distances distancesFrom(const Surface& surface, const Vec3& place, uint32_t part, float reach) {
  const auto nearest = nearestSample(surface, place, reach, part);
  if (!nearest) return {};
  WaveFront front(edgesOf(surface), reach, WaveFront::Wave::Circles);
  const auto straight = [&](uint32_t s) { return (surface.positions[s] - place).norm(); };
  front.seed(*nearest, straight(*nearest));
  for (const uint32_t n : surface.neighborsOf(*nearest)) front.seed(n, straight(n));
  return front.run();
}

Distances distancesFrom(const Surface& surface, std::span<const DistanceSeed> seeds, float reach) {
  WaveFront front(edgesOf(surface), reach, WaveFront::Wave::Lines);
  for (const DistanceSeed& s : seeds) front.seed(s.sample, s.distance);
  return front.run();
}

}  // namespace juvenor
