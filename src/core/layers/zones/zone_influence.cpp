// Where a hue zone works: distance along the skin from its anchor, bent by noise so that the edge is organic,
// faded out, mottled by a second noise, and at last melted. What it costs follows the samples it covers.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/layers/zones/hue_zone.h"
#include "core/layers/zones/zone_noise.h"
#include "core/parallel.h"
#include "core/surface/build/search.h"
#include "core/surface/distance/coarse_distance.h"
#include "core/surface/falloff.h"
#include "core/surface/graph/graph_piece.h"
#include "core/surface/graph/melt.h"

namespace juvenor {
namespace {

// By how much of the reach a fully broken edge moves at most.
constexpr float kEdgeSwing = 0.45f;
// How much of a fully broken zone the mottling takes away at most.
constexpr float kMottle = 0.75f;

// A remembered value whose making cannot fail.
template <class T, class Make>
std::shared_ptr<const T> kept(SurfaceMaps& maps, const std::string& key, Make&& make) {
  return *maps.derived<T>(key, [&]() -> Result<std::shared_ptr<const T>> { return make(); });
}

// Large zones are measured on a coarser skin: its cells are this part of the reach at most.
constexpr float kCellsInReach = 25;
// And no wider than where the front near the anchor, which runs this many cells over the finer skin, would
// take longer than the one over the coarser skin.
constexpr float kCellsNear = 6;
// No ladder has as many, whatever reach a file asks for.
constexpr size_t kMostLevels = 24;
// Weights that 16 bits cannot hold are none.
constexpr float kLeast = 0.5f / 65535;

// The widest cells to measure a reach on, over a skin with cells so wide.
float widestFor(float reach, float finer) {
  return std::min(reach / kCellsInReach, std::sqrt(reach * finer / kCellsNear));
}

// The coarsest level of the ladder with cells no wider than `widest`; 0: the samples.
size_t levelFor(const Surface& surface, float widest) {
  size_t level = 0;
  for (float cell = surface.spacing; cell > 0 && 2 * cell <= widest && level < kMostLevels; cell *= 2)
    ++level;
  return level;
}

std::shared_ptr<const CoarseSkin> coarseOver(SurfaceMaps& maps, size_t fine, size_t level) {
  return kept<CoarseSkin>(maps, fmt::format("coarse skin {} {}", fine, level), [&] {
    return std::make_shared<const CoarseSkin>(coarseSkin(maps.ladder(), level, fine));
  });
}

// About how wide the steepest slopes of a zone are (scene units): its fade, made steeper where noise bends
// it.
float steepestFade(const HueZone& zone) {
  return zone.softness * zone.reach /
         (1 + 2 * kEdgeSwing * zone.breakUp * zone.reach / std::max(zone.grain, 1e-6f));
}

// The skin a zone is worked out on: the samples, or nodes over them where melting leaves nothing finer.
struct Ground {
  size_t level = 0;
  std::shared_ptr<const CoarseSkin> nodes;  // null: the samples themselves

  // Cells as wide as melting allows, wider where the zone has nothing narrow to begin with; no coarser than
  // what the reach is measured on.
  Ground(SurfaceMaps& maps, const HueZone& zone, float reach, float melt) {
    if (!(melt > 0)) return;
    const float narrow = widestMeltCell(melt), cell = std::clamp(steepestFade(zone), narrow, 2 * narrow);
    level = levelFor(maps.surface(), std::min(cell, widestFor(reach, maps.surface().spacing)));
    if (level > 0) nodes = coarseOver(maps, 0, level);
  }
  SkinEdges edges(const SurfaceMaps& maps) const {
    return nodes ? edgesOf(nodes->graph()) : edgesOf(maps.surface());
  }
  float cell(const SurfaceMaps& maps) const { return nodes ? nodes->cell() : maps.surface().spacing; }
  uint32_t over(uint32_t sample) const { return nodes ? nodes->nodeOf[sample] : sample; }
};

// The anchor, and the one across when there is skin. A place off the skin, as across a sculpt that is not
// quite the same on both sides, stands for the skin nearest to it.
std::vector<DistanceSource> sourcesOf(const Surface& surface, const HueZone& zone, const Ground& ground,
                                      float reach) {
  std::vector<DistanceSource> out;
  const auto tie = [&](const Vec3& place, float within) {
    const auto nearest = nearestSample(surface, place, within, zone.part);
    if (!nearest) return;
    const Vec3& skin = surface.positions[*nearest];
    const bool off = (skin - place).norm() > 2 * surface.spacing;
    out.push_back({off ? skin : place, ground.over(*nearest)});
  };
  tie(zone.anchor, reach);
  if (const auto second = secondAnchor(zone); second && !out.empty()) tie(*second, 0.5f * zone.reach);
  return out;
}

Distances wayOf(SurfaceMaps& maps, const HueZone& zone, const Ground& ground, float reach) {
  const auto sources = sourcesOf(maps.surface(), zone, ground, reach);
  const size_t level = levelFor(maps.surface(), widestFor(reach, ground.cell(maps)));
  return level > ground.level
             ? distancesFrom(ground.edges(maps), *coarseOver(maps, ground.level, level), sources, reach)
             : distancesFrom(ground.edges(maps), sources, reach);
}

// The falloff around a part `t` of the reach, as the mean over a cell so wide, so that a hard edge lies where
// it should and not where the nodes do.
float fallen(float t, float hardness, float width) {
  if (width == 0) return falloff(t, hardness);
  float sum = 0;
  for (const float step : {-0.375f, -0.125f, 0.125f, 0.375f})
    sum += falloff(std::max(0.f, t + step * width), hardness);
  return sum / 4;
}

std::vector<float> weightsOf(SurfaceMaps& maps, const HueZone& zone, const Ground& ground,
                             const Distances& way) {
  const auto noise = kept<ZoneNoise>(maps, fmt::format("zone noise {} {}", ground.level, zone.grain), [&] {
    return std::make_shared<const ZoneNoise>(maps.sharedSurface(), ground.nodes, zone.grain);
  });
  const float reach = std::max(zone.reach, 1e-20f), width = ground.nodes ? ground.nodes->cell() / reach : 0;
  std::vector<float> out(way.samples.size());
  parallelStretches(0, out.size(), 8192, [&](size_t begin, size_t end) {
    ZoneNoise::Reader read(*noise);
    for (size_t i = begin; i != end; ++i) {
      float t = way.values[i] / reach, keep = 1;
      if (zone.breakUp > 0) {
        const ZoneNoise::Value n = read.at(way.samples[i]);
        t *= 1 + kEdgeSwing * zone.breakUp * n.edge;
        keep -= kMottle * zone.breakUp * n.mottle;
      }
      out[i] = keep * fallen(t, 1 - zone.softness, width);
    }
  });
  return out;
}

// The weights of the samples over some nodes, from planes over these.
ZoneInfluence broughtDown(const Surface& surface, const CellMembers& members, std::span<const uint32_t> nodes,
                          const BlendedPlanes& planes) {
  std::vector<float> weights(surface.size(), 0.f);
  parallel(
      nodes.size(),
      [&](size_t i) {
        planes.at(static_cast<uint32_t>(i), members.of(nodes[i]), surface.positions, weights);
      },
      256);
  constexpr size_t kStretch = 16384;
  std::vector<ZoneInfluence> pieces((weights.size() + kStretch - 1) / kStretch);
  parallel(
      pieces.size(),
      [&](size_t k) {
        for (size_t s = k * kStretch; s < std::min(weights.size(), (k + 1) * kStretch); ++s) {
          if (!(weights[s] > kLeast)) continue;
          pieces[k].samples.push_back(static_cast<uint32_t>(s));
          pieces[k].values.push_back(std::min(1.f, weights[s]));
        }
      },
      1);
  return joined(pieces);
}

ZoneInfluence workedOut(SurfaceMaps& maps, const HueZone& zone, float melt) {
  const float reach = zone.reach * (1 + kEdgeSwing * zone.breakUp) + 3 * melt;
  const Ground ground(maps, zone, reach, melt);
  Distances way = wayOf(maps, zone, ground, reach);
  std::vector<float> weights = weightsOf(maps, zone, ground, way);
  if (!(melt > 0) || way.samples.empty()) return {std::move(way.samples), std::move(weights)};
  const SkinGraph& whole = ground.nodes ? ground.nodes->graph() : maps.ladder()->graphs.front();
  const std::vector<uint32_t> numbers = numbersOf(way.samples, whole.size());
  const SkinGraph piece = pieceOf(whole, way.samples, numbers);
  if (ground.nodes)
    return broughtDown(maps.surface(), ground.nodes->members, way.samples,
                       meltedPlanes(piece, ground.nodes->cell(), std::move(weights), melt));
  juvenor::melt(piece, weights, melt);
  return {std::move(way.samples), std::move(weights)};
}

}  // namespace

ZoneInfluencePointer influenceOf(SurfaceMaps& maps, const HueZone& zone, float melt) {
  std::string key =
      fmt::format("zone {} {} {} {} {} {} {} {} {} {}", zone.anchor.x(), zone.anchor.y(), zone.anchor.z(),
                  zone.part, zone.mirrored, zone.reach, zone.softness, zone.breakUp, zone.grain, melt);
  if (zone.mirrored && zone.other)
    key += fmt::format(" and {} {} {}", zone.other->x(), zone.other->y(), zone.other->z());
  return kept<ZoneInfluence>(maps, key, [&] {
    // an anchor outside a piece reaches into it
    return std::make_shared<const ZoneInfluence>(
        maps.whole() ? cutValues(*maps.cut(), *influenceOf(*maps.whole(), zone, melt))
                     : workedOut(maps, zone, melt));
  });
}

}  // namespace juvenor
