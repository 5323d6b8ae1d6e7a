#include "core/surface/distance.h"

#include "core/parallel.h"
#include "core/surface/search.h"
#include "core/surface/wave_front.h"

namespace juvenor {
namespace {

SkinEdges edgesOf(const Surface& surface) {
  return {surface.positions, surface.neighborStart, surface.neighbors};
}

Distances nearerOf(const Distances& a, const Distances& b) {
  Distances out;
  size_t i = 0, k = 0;
  while (i < a.samples.size() || k < b.samples.size()) {
    const uint32_t s = i < a.samples.size() ? a.samples[i] : kNone,
                   t = k < b.samples.size() ? b.samples[k] : kNone;
    const float d = s <= t ? a.values[i] : b.values[k];
    out.samples.push_back(std::min(s, t));
    out.values.push_back(s == t ? std::min(d, b.values[k]) : d);
    i += s <= t;
    k += t <= s;
  }
  return out;
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

Distances distancesFrom(const Surface& surface, std::span<const Vec3> places, uint32_t part, float reach) {
  std::vector<Distances> each(places.size());
  parallel(
      places.size(), [&](size_t i) { each[i] = distancesFrom(surface, places[i], part, reach); }, 1);
  Distances out;
  for (Distances& d : each) out = out.samples.empty() ? std::move(d) : nearerOf(out, d);
  return out;
}

Distances distancesFrom(const Surface& surface, std::span<const DistanceSeed> seeds, float reach) {
  WaveFront front(edgesOf(surface), reach, WaveFront::Wave::Lines);
  for (const DistanceSeed& s : seeds) front.seed(s.sample, s.distance);
  return front.run();
}

}  // namespace juvenor
