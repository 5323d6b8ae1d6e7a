#include "core/surface/distance/coarse_distance.h"

#include <algorithm>

#include "core/parallel.h"
#include "core/surface/distance/fast_marching.h"
#include "core/surface/graph/blended_planes.h"

namespace juvenor {
namespace {

// In cells of the coarse skin: how far the fine front runs, and from where on the coarse one is mixed in.
constexpr float kFine = 6, kMixed = 3;
constexpr float kFar = BlendedPlanes::kNothing;

// How far each node is, kFar beyond the reach. Starts from the nodes whose samples the fine front met, all of
// them.
std::vector<float> nodeDistances(const CoarseSkin& coarse, const Distances& near, float reach) {
  const SkinGraph& graph = coarse.graph();
  std::vector<float> sums(graph.size(), 0.f);
  std::vector<uint32_t> met(graph.size(), 0);
  for (size_t i = 0; i < near.samples.size(); ++i) {
    const uint32_t node = coarse.nodeOf[near.samples[i]];
    sums[node] += near.values[i];
    ++met[node];
  }
  FastMarching front(edgesOf(graph), reach, FastMarching::Wave::Circles);
  for (uint32_t n = 0; n < graph.size(); ++n)
    if (met[n] > 0 && met[n] == coarse.members.of(n).size())
      front.seed(n, sums[n] / static_cast<float>(met[n]));
  const Distances reached = front.run();
  std::vector<float> out(graph.size(), kFar);
  for (size_t i = 0; i < reached.samples.size(); ++i) out[reached.samples[i]] = reached.values[i];
  return out;
}

// Near ones, and beyond them those brought down from the coarse skin, as far as the reach.
Distances stretch(const Distances& near, std::span<const float> broughtDown, float cell, float reach,
                  uint32_t first, uint32_t end) {
  Distances out;
  size_t k = static_cast<size_t>(std::ranges::lower_bound(near.samples, first) - near.samples.begin());
  for (uint32_t s = first; s < end; ++s) {
    float distance = broughtDown[s];
    if (k < near.samples.size() && near.samples[k] == s) {
      const float close = near.values[k++];
      const float t =
          distance == kFar ? 0.f : std::clamp((close / cell - kMixed) / (kFine - kMixed), 0.f, 1.f);
      distance = t > 0 ? close + t * t * (3 - 2 * t) * (distance - close) : close;
    }
    if (!(distance <= reach)) continue;
    out.samples.push_back(s);
    out.values.push_back(std::max(0.f, distance));
  }
  return out;
}

}  // namespace

Distances distancesFrom(const SkinEdges& fine, const CoarseSkin& coarse,
                        std::span<const DistanceSource> sources, float reach) {
  const float cell = coarse.cell();
  if (reach <= kFine * cell) return distancesFrom(fine, sources, reach);
  // each source has a front of its own, so that they run side by side
  std::vector<Distances> nearEach(sources.size());
  std::vector<std::vector<float>> nodesEach(sources.size());
  parallel(
      sources.size(),
      [&](size_t i) {
        nearEach[i] = distancesFrom(fine, sources.subspan(i, 1), kFine * cell);
        nodesEach[i] = nodeDistances(coarse, nearEach[i], reach + kPlaneReach * cell);
      },
      1);
  std::vector<float> nodes(coarse.graph().size(), kFar), broughtDown(fine.positions.size(), kFar);
  for (const auto& each : nodesEach)
    for (size_t n = 0; n < nodes.size(); ++n) nodes[n] = std::min(nodes[n], each[n]);
  // no distance grows faster than the way
  const BlendedPlanes planes(coarse.graph(), cell, nodes, 1);
  parallel(
      nodes.size(),
      [&](size_t n) {
        const auto node = static_cast<uint32_t>(n);
        if (planes.has(node)) planes.at(node, coarse.members.of(n), fine.positions, broughtDown);
      },
      256);
  const Distances near = nearest(std::move(nearEach));
  constexpr size_t kStretch = 16384;
  std::vector<Distances> pieces((broughtDown.size() + kStretch - 1) / kStretch);
  parallel(
      pieces.size(),
      [&](size_t i) {
        pieces[i] = stretch(near, broughtDown, cell, reach, static_cast<uint32_t>(i * kStretch),
                            static_cast<uint32_t>(std::min(broughtDown.size(), (i + 1) * kStretch)));
      },
      1);
  return joined(pieces);
}

}  // namespace juvenor
