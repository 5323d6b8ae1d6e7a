#include "core/surface/distance/distance.h"

#include "core/parallel.h"
#include "core/surface/build/search.h"
#include "core/surface/distance/fast_marching.h"

namespace juvenor {
namespace {

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

Distances distancesFrom(const SkinEdges& skin, const DistanceSource& source, float reach) {
  FastMarching front(skin, reach, FastMarching::Wave::Circles);
  const auto straight = [&](uint32_t s) { return (skin.positions[s] - source.place).norm(); };
  front.seed(source.nearest, straight(source.nearest));
  for (const uint32_t n : skin.neighborsOf(source.nearest)) front.seed(n, straight(n));
  return front.run();
}

}  // namespace

Distances nearest(std::vector<Distances> several) {
  Distances out;
  for (Distances& d : several) out = out.samples.empty() ? std::move(d) : nearerOf(out, d);
  return out;
}

Distances distancesFrom(const Surface& surface, const Vec3& place, uint32_t part, float reach) {
  const auto nearest = nearestSample(surface, place, reach, part);
  return nearest ? distancesFrom(edgesOf(surface), DistanceSource{place, *nearest}, reach) : Distances{};
}

Distances distancesFrom(const SkinEdges& skin, std::span<const DistanceSource> sources, float reach) {
  std::vector<Distances> each(sources.size());
  parallel(
      sources.size(), [&](size_t i) { each[i] = distancesFrom(skin, sources[i], reach); }, 1);
  return nearest(std::move(each));
}

Distances distancesFrom(const SkinEdges& skin, std::span<const DistanceSeed> seeds, float reach) {
  FastMarching front(skin, reach, FastMarching::Wave::Lines);
  for (const DistanceSeed& s : seeds) front.seed(s.sample, s.distance);
  return front.run();
}

}  // namespace juvenor
