// Where a hue zone works: distance along the skin from its anchor, bent by noise so that the edge is organic,
// faded out, mottled by a second noise, and at last melted. What it costs follows the samples it covers.
#include <fmt/format.h>

#include <algorithm>

#include "core/layers/hue_zone.h"
#include "core/layers/zone_noise.h"
#include "core/parallel.h"
#include "core/surface/coarse_distance.h"
#include "core/surface/falloff.h"
#include "core/surface/ladder_piece.h"
#include "core/surface/melt.h"
#include "core/surface/search.h"

namespace juvenor {
namespace {

// By how much of the reach a fully broken edge moves at most.
constexpr float kEdgeSwing = 0.45f;
// How much of a fully broken zone the mottling takes away at most.
constexpr float kMottle = 0.75f;

// A remembered value whose making cannot fail.
template <class T, class Make>
std::shared_ptr<const T> kept(SurfaceMaps& maps, const std::string& key, const size_t& bytes, Make&& make) {
  return *maps.derived<T>(key, bytes, [&]() -> Result<std::shared_ptr<const T>> { return make(); });
}

// Large zones are measured on a coarser skin: its cells are this part of the reach at most.
constexpr float kCellsInReach = 40;

// The skin to measure a reach on; null: the samples themselves.
std::shared_ptr<const CoarseSkin> coarseFor(SurfaceMaps& maps, float reach) {
  size_t level = 0;
  for (float cell = maps.surface().spacing; cell > 0 && 2 * cell <= reach / kCellsInReach; cell *= 2) ++level;
  if (level == 0) return nullptr;
  return kept<CoarseSkin>(maps, fmt::format("coarse skin {}", level), 4 * maps.size(), [&] {
    return std::make_shared<const CoarseSkin>(coarseSkin(maps.ladder(), level));
  });
}

// From the anchor, and from the one across when there is skin.
Distances wayOf(SurfaceMaps& maps, const HueZone& zone, float reach) {
  std::vector<Vec3> anchors{zone.anchor};
  const Vec3 across(-zone.anchor.x(), zone.anchor.y(), zone.anchor.z());
  if (zone.mirrored && nearestSample(maps.surface(), across, 0.5f * zone.reach)) anchors.push_back(across);
  const auto coarse = coarseFor(maps, reach);
  return coarse ? distancesFrom(maps.surface(), *coarse, anchors, kNone, reach)
                : distancesFrom(maps.surface(), anchors, kNone, reach);
}

std::vector<float> weightsOf(SurfaceMaps& maps, const HueZone& zone, const Distances& way) {
  const auto noise = kept<ZoneNoise>(maps, fmt::format("zone noise {}", zone.grain), 4 * maps.size(), [&] {
    return std::make_shared<const ZoneNoise>(maps.sharedSurface(), zone.grain);
  });
  std::vector<float> out(way.samples.size());
  parallel(out.size(), [&](size_t i) {
    float t = way.values[i] / std::max(zone.reach, 1e-20f), keep = 1;
    if (zone.breakUp > 0) {
      const ZoneNoise::Value n = noise->at(way.samples[i]);
      t *= 1 + kEdgeSwing * zone.breakUp * n.edge;
      keep -= kMottle * zone.breakUp * n.mottle;
    }
    out[i] = keep * falloff(t, 1 - zone.softness);
  });
  return out;
}

ZoneInfluencePointer workedOut(SurfaceMaps& maps, const HueZone& zone, float softening) {
  Distances way = wayOf(maps, zone, zone.reach * (1 + kEdgeSwing * zone.breakUp) + 3 * softening);
  auto out = std::make_shared<ZoneInfluence>();
  out->weights = weightsOf(maps, zone, way);
  out->samples = std::move(way.samples);
  if (softening > 0 && !out->samples.empty())
    melt(pieceOf(*maps.ladder(), out->samples, widestMeltCell(softening)), out->weights, softening);
  return out;
}

}  // namespace

ZoneInfluencePointer influenceOf(SurfaceMaps& maps, const HueZone& zone, float softening) {
  const std::string key =
      fmt::format("zone {} {} {} {} {} {} {} {} {}", zone.anchor.x(), zone.anchor.y(), zone.anchor.z(),
                  zone.mirrored, zone.reach, zone.softness, zone.breakUp, zone.grain, softening);
  size_t bytes = 0;
  return kept<ZoneInfluence>(maps, key, bytes, [&] {
    auto out = workedOut(maps, zone, softening);
    bytes = 4096 + 8 * out->samples.size();
    return out;
  });
}

}  // namespace juvenor
