// How vessels grow: over a coarse skin that never crosses a gap each tip is joined to the root by the
// cheapest way (Dijkstra 1959), where noise makes some skin dear, so that ways wind and share their stems, as
// in first-passage percolation (Hammersley, Welsh 1965). Ways used by many are cheaper the next time round,
// which draws them together. Thickness follows Murray's law (1926): the cube of a stem's radius is the sum of
// the cubes of its branches'.
#include <cmath>
#include <limits>
#include <numbers>
#include <queue>

#include "core/growth/skin_seeds.h"
#include "core/layers/sources/markings.h"
#include "core/noise/noise.h"
#include "core/parallel.h"
#include "core/seeded.h"
#include "core/surface/build/search.h"
#include "core/surface/graph/skin_level.h"

namespace juvenor {
namespace {

constexpr float kFar = std::numeric_limits<float>::infinity();
constexpr int kRounds = 3;      // of growing along the ways found before
constexpr int kNodesApart = 3;  // nodes between two tips

// The cheapest ways from a root.
struct Ways {
  std::vector<uint32_t> from;  // the node before each; kNone at the root and where nothing came
  std::vector<float> length;   // along them, scene units; far where nothing came
};

class Growth {
 public:
  Growth(const Surface& surface, const SkinGraph& graph, const Veins& veins, uint32_t seed)
      : graph_(graph),
        back_(surface.turn.transpose()),
        veins_(veins),
        seed_(seed),
        used_(graph.size(), 0),
        winding_(graph.size(), 0) {}

  Ways waysFrom(uint32_t root, float reach) {
    Ways out{std::vector<uint32_t>(graph_.size(), kNone), std::vector<float>(graph_.size(), kFar)};
    std::vector<float> cost(graph_.size(), kFar);
    using Entry = std::pair<float, uint32_t>;
    std::priority_queue<Entry, std::vector<Entry>, std::greater<>> queue;
    cost[root] = out.length[root] = 0;
    queue.emplace(0.f, root);
    while (!queue.empty()) {
      const auto [paid, node] = queue.top();
      queue.pop();
      if (paid > cost[node]) continue;
      for (uint32_t e = graph_.start[node]; e < graph_.start[node + 1]; ++e) {
        const uint32_t to = graph_.neighbors[e];
        const float step = (graph_.positions[to] - graph_.positions[node]).norm();
        const float price = paid + step * dearness(to);
        if (price >= cost[to] || out.length[node] + step > reach) continue;
        cost[to] = price;
        out.length[to] = out.length[node] + step;
        out.from[to] = node;
        queue.emplace(price, to);
      }
    }
    return out;
  }

  /// How many tips lie behind each node; ways are cheaper from now on where there are many.
  std::vector<uint32_t> flow(const Ways& ways, std::span<const uint32_t> tips) {
    std::vector<uint32_t> out(graph_.size(), 0);
    for (const uint32_t tip : tips)
      for (uint32_t node = tip; node != kNone; node = ways.from[node]) ++out[node];
    const auto all = static_cast<float>(std::max<size_t>(1, tips.size()));
    for (size_t n = 0; n < out.size(); ++n) used_[n] = std::sqrt(static_cast<float>(out[n]) / all);
    return out;
  }

 private:
  float dearness(uint32_t node) {
    float& winding = winding_[node];
    if (!(winding > 0)) {
      const Vec3 p = back_ * graph_.positions[node] / (1.6f * veins_.spacing);
      winding = std::exp(2.4f * veins_.wander * fractal(p, 2, seed_));
    }
    return winding * (1 - 0.65f * std::min(1.f, 2 * used_[node]));
  }

  const SkinGraph& graph_;
  Eigen::Matrix3f back_;
  const Veins& veins_;
  uint32_t seed_;
  std::vector<float> used_;
  std::vector<float> winding_;  // 0: not asked for yet
};

// Where vessels end: seeds within reach, in the fan, where the maps want them.
class Tips {
 public:
  Tips(SurfaceMaps& maps, const Veins& veins, const SkinLevel& ground, const SkinSeeds& seeds,
       std::shared_ptr<const ScalarField> region)
      : surface_(maps.surface()), veins_(veins), ground_(ground), seeds_(seeds), region_(std::move(region)) {}

  std::vector<uint32_t> of(const Vec3& root, const Vec3& toward, const Ways& ways, float reach) const {
    std::vector<uint32_t> out;
    const float least = std::cos(std::numbers::pi_v<float> * std::max(0.06f, veins_.fan));
    for (const SkinSeed& seed : seeds_.seeds) {
      const uint32_t node = ground_.over(seed.sample);
      if (!(ways.length[node] < reach) || ways.from[node] == kNone) continue;
      const Vec3 away = seed.position - root;
      if (veins_.fan < 1 && away.dot(toward) < least * away.norm()) continue;
      const float wanted = region_ ? static_cast<float>(region_->at(seed.sample)[0]) / 65535.f : 1.f;
      if (Draws(seed.key, 2).unit() < wanted) out.push_back(node);
    }
    std::ranges::sort(out);
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
  }

 private:
  const Surface& surface_;
  const Veins& veins_;
  const SkinLevel& ground_;
  const SkinSeeds& seeds_;
  std::shared_ptr<const ScalarField> region_;
};

// A way as a smooth line on the skin.
class Smoother {
 public:
  explicit Smoother(const Surface& surface) : surface_(surface) {}

  VeinPath smooth(std::vector<Vec3> places, const std::vector<float>& radii, uint32_t part,
                  float near) const {
    for (int round = 0; round < 2; ++round) {
      const std::vector<Vec3> before = places;
      for (size_t i = 1; i + 1 < places.size(); ++i)
        places[i] = 0.25f * before[i - 1] + 0.5f * before[i] + 0.25f * before[i + 1];
    }
    VeinPath out;
    out.part = part;
    constexpr int kSteps = 4;
    for (size_t i = 0; i + 1 < places.size(); ++i)
      for (int k = 0; k < kSteps + (i + 2 == places.size()); ++k) {
        const float t = static_cast<float>(k) / kSteps;
        add(out, spline(places, i, t), radii[i] + t * (radii[i + 1] - radii[i]), near);
      }
    return out;
  }

 private:
  // Catmull and Rom's spline between places i and i + 1.
  static Vec3 spline(const std::vector<Vec3>& p, size_t i, float t) {
    const Vec3 &a = p[i > 0 ? i - 1 : 0], &b = p[i], &c = p[i + 1], &d = p[std::min(i + 2, p.size() - 1)];
    return 0.5f *
           (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t * t + (3 * b - a - 3 * c + d) * t * t * t);
  }

  void add(VeinPath& out, const Vec3& place, float radius, float near) const {
    const auto sample = nearestSample(surface_, place, near, out.part);
    if (!sample) return;
    const Vec3& normal = surface_.normals[*sample];
    out.places.push_back(place - normal * normal.dot(place - surface_.positions[*sample]));
    out.normals.push_back(normal);
    out.radii.push_back(radius);
  }

  const Surface& surface_;
};

// The ways cut into vessels from fork to fork, each with its thickness.
void addVessels(const Surface& surface, const SkinLevel& ground, const Veins& veins, const HueZone& root,
                const Ways& ways, std::span<const uint32_t> tips, const std::vector<uint32_t>& flow,
                std::vector<VeinPath>& out) {
  const SkinGraph& graph = ground.graph();
  const float stem = 0.5f * veins.width * root.strength, tip = std::min(stem, 0.5f * veins.finest);
  const auto all = static_cast<float>(std::max<size_t>(1, tips.size()));
  const auto radiusAt = [&](uint32_t node) {
    return std::max(tip, stem * std::cbrt(static_cast<float>(flow[node]) / all));
  };
  struct Way {
    std::vector<Vec3> places;
    std::vector<float> radii;
  };
  std::vector<Way> cut;
  std::vector<char> drawn(graph.size(), 0);
  for (const uint32_t from : tips) {
    Way way;
    uint32_t node = from;
    for (bool more = true; more && node != kNone; node = ways.from[node]) {
      more = !drawn[node];
      drawn[node] = 1;
      way.places.push_back(graph.positions[node]);
      // a twig starts as thick as it is itself, not as the stem it leaves
      way.radii.push_back(more ? radiusAt(node)
                               : std::min(radiusAt(node), way.radii.empty() ? tip : way.radii.back()));
    }
    if (way.places.size() >= 3) cut.push_back(std::move(way));
  }
  const Smoother smoother(surface);
  const float near = std::max(6 * surface.spacing, 2 * ground.ladder->cells[ground.level]);
  std::vector<VeinPath> paths(cut.size());
  parallel(
      cut.size(),
      [&](size_t i) { paths[i] = smoother.smooth(std::move(cut[i].places), cut[i].radii, root.part, near); },
      4);
  for (VeinPath& path : paths)
    if (path.places.size() > 2) out.push_back(std::move(path));
}

struct Root {
  HueZone zone;
  Vec3 toward;
};

// A root and its twin on the other side, which grows toward where the image of the one's way lies.
std::vector<Root> bothSides(const Veins& veins) {
  std::vector<Root> out;
  for (const HueZone& zone : veins.roots) {
    out.push_back({zone, veins.toward});
    const auto second = secondAnchor(zone);
    if (!second) continue;
    const Vec3 across = (*second - zone.anchor).normalized();
    out.push_back({zone, veins.toward - 2 * across.dot(veins.toward) * across});
    out.back().zone.anchor = *second;
    out.back().zone.part = kNone;
  }
  return out;
}

}  // namespace

Result<std::vector<VeinPath>> grownVeins(SurfaceMaps& maps, const Veins& veins, const Progress& progress) {
  std::vector<VeinPath> out;
  const Surface& surface = maps.surface();
  const float spacing = std::max(veins.spacing, 0.002f * surface.bounds.diagonal());
  const auto seeds =
      skinSeeds(maps, spacing, veins.seed, [&](float f) { return report(progress, 0.4f * f); });
  if (!seeds) return seeds.error();
  std::shared_ptr<const ScalarField> region;
  if (!veins.region.empty()) {
    auto mask = maskOf(maps, veins.region, progress);
    if (!mask) return mask.error();
    region = *mask;
  }
  Veins sized = veins;
  sized.spacing = spacing;
  const SkinLevel ground = skinLevel(maps.ladder(), spacing / kNodesApart);
  const Tips tipsAround(maps, sized, ground, **seeds, region);
  const auto roots = bothSides(veins);
  for (size_t r = 0; r < roots.size(); ++r) {
    HueZone root = roots[r].zone;
    const auto sample =
        nearestSample(surface, root.anchor, std::max(root.reach, 4 * surface.spacing), root.part);
    if (!sample || !(root.reach > 0)) continue;
    root.part = surface.parts[*sample];
    // each side grows its own way
    Growth growth(surface, ground.graph(), sized, veins.seed + 977u * static_cast<uint32_t>(r));
    Ways ways;
    std::vector<uint32_t> tips, flow;
    for (int round = 0; round < kRounds; ++round) {
      ways = growth.waysFrom(ground.over(*sample), root.reach * 1.6f);
      if (round == 0) tips = tipsAround.of(root.anchor, roots[r].toward, ways, root.reach);
      flow = growth.flow(ways, tips);
      if (!report(progress, 0.4f + 0.6f * (static_cast<float>(r) + static_cast<float>(round) / kRounds) /
                                       static_cast<float>(roots.size())))
        return cancelledError();
    }
    addVessels(surface, ground, sized, root, ways, tips, flow, out);
  }
  return out;
}

}  // namespace juvenor
