// Where a hue zone works: distance along the skin from its anchor, bent by noise so that the edge is organic,
// faded out, mottled by a second noise, and at last melted. Noise is Perlin's (2002) in scene units, so that
// it is the same for every density of points.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/layers/hue_zone.h"
#include "core/surface/distance.h"
#include "core/surface/falloff.h"
#include "core/surface/melt.h"
#include "core/surface/noise.h"
#include "core/surface/search.h"

namespace juvenor {
namespace {

// By how much of the reach a fully broken edge moves at most.
constexpr float kEdgeSwing = 0.45f;
// How much of a fully broken zone the mottling takes away at most.
constexpr float kMottle = 0.75f;

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

ZoneInfluencePointer workedOut(SurfaceMaps& maps, const HueZone& zone, float softening) {
  const Surface& surface = maps.surface();
  const float reach = zone.reach * (1 + kEdgeSwing * zone.breakUp) + 3 * softening;
  Distances way = distancesFrom(surface, zone.anchor, kNone, reach);
  if (zone.mirrored) {
    const Vec3 across(-zone.anchor.x(), zone.anchor.y(), zone.anchor.z());
    // a one-sided shape has nothing there
    if (nearestSample(surface, across, 0.5f * zone.reach))
      way = nearerOf(way, distancesFrom(surface, across, kNone, reach));
  }
  auto out = std::make_shared<ZoneInfluence>();
  out->weights.resize(way.samples.size());
  const float grain = std::max(zone.grain, 1e-6f);
  for (size_t i = 0; i < way.samples.size(); ++i) {
    const Vec3 p = surface.positions[way.samples[i]] / grain;
    float t = way.values[i] / std::max(zone.reach, 1e-20f), keep = 1;
    if (zone.breakUp > 0) {
      t *= 1 + kEdgeSwing * zone.breakUp * std::clamp(fractal(p, 3, 11), -1.f, 1.f);
      keep -= kMottle * zone.breakUp * std::clamp(0.5f + 0.9f * fractal(1.7f * p, 2, 47), 0.f, 1.f);
    }
    out->weights[i] = keep * falloff(t, 1 - zone.softness);
  }
  out->samples = std::move(way.samples);
  if (softening > 0 && !out->samples.empty())
    melt(skinLadder(skinGraph(surface, out->samples), surface.spacing), out->weights, softening);
  return out;
}

}  // namespace

ZoneInfluencePointer influenceOf(SurfaceMaps& maps, const HueZone& zone, float softening) {
  const std::string key =
      fmt::format("zone {} {} {} {} {} {} {} {} {}", zone.anchor.x(), zone.anchor.y(), zone.anchor.z(),
                  zone.mirrored, zone.reach, zone.softness, zone.breakUp, zone.grain, softening);
  // a guess at its share of the samples is enough for the budget
  const size_t bytes = 4096 + maps.size() / 4;
  return *maps.derived<ZoneInfluence>(
      key, bytes, [&]() -> Result<ZoneInfluencePointer> { return workedOut(maps, zone, softening); });
}

}  // namespace juvenor
