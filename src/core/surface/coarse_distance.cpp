#include "core/surface/coarse_distance.h"

#include <algorithm>

#include "core/parallel.h"
#include "core/surface/blended_planes.h"
#include "core/surface/wave_front.h"

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
  WaveFront front({graph.positions, graph.start, graph.neighbors}, reach, WaveFront::Wave::Circles);
  for (uint32_t n = 0; n < graph.size(); ++n)
    if (met[n] > 0 && met[n] == coarse.members[n]) front.seed(n, sums[n] / static_cast<float>(met[n]));
  const Distances reached = front.run();
  std::vector<float> out(graph.size(), kFar);
  for (size_t i = 0; i < reached.samples.size(); ++i) out[reached.samples[i]] = reached.values[i];
  return out;
}

// One stretch of samples.
Distances stretch(const Surface& surface, const CoarseSkin& coarse, const BlendedPlanes& planes,
                  const Distances& near, float reach, uint32_t first, uint32_t end) {
  const float cell = coarse.cell();
  Distances out;
  size_t k = static_cast<size_t>(std::ranges::lower_bound(near.samples, first) - near.samples.begin());
  for (uint32_t s = first; s < end; ++s) {
    float distance = planes.at(coarse.nodeOf[s], surface.positions[s]);
    if (k < near.samples.size() && near.samples[k] == s) {
      const float fine = near.values[k++];
      const float t =
          distance == kFar ? 0.f : std::clamp((fine / cell - kMixed) / (kFine - kMixed), 0.f, 1.f);
      distance = t > 0 ? fine + t * t * (3 - 2 * t) * (distance - fine) : fine;
    }
    if (!(distance <= reach)) continue;
    out.samples.push_back(s);
    out.values.push_back(std::max(0.f, distance));
  }
  return out;
}

}  // namespace

CoarseSkin coarseSkin(std::shared_ptr<const SkinLadder> ladder, size_t level) {
  CoarseSkin out;
  out.level = std::min(level, ladder->graphs.size() - 1);
  const size_t samples = ladder->graphs.front().size();
  out.nodeOf.resize(samples);
  parallel(samples, [&](size_t s) {
    auto node = static_cast<uint32_t>(s);
    for (size_t k = 0; k < out.level; ++k) node = ladder->coarser[k][node];
    out.nodeOf[s] = node;
  });
  out.members.assign(ladder->graphs[out.level].size(), 0);
  for (const uint32_t n : out.nodeOf) ++out.members[n];
  out.ladder = std::move(ladder);
  return out;
}

Distances distancesFrom(const Surface& surface, const CoarseSkin& coarse, std::span<const Vec3> places,
                        uint32_t part, float reach) {
  const float cell = coarse.cell();
  Distances near = distancesFrom(surface, places, part, std::min(reach, kFine * cell));
  if (near.samples.empty() || reach <= kFine * cell) return near;
  // no distance grows faster than the way
  const BlendedPlanes planes(coarse.graph(), cell, nodeDistances(coarse, near, reach + kPlaneReach * cell),
                             1);
  constexpr size_t kStretch = 16384;
  std::vector<Distances> pieces((surface.size() + kStretch - 1) / kStretch);
  parallel(
      pieces.size(),
      [&](size_t i) {
        pieces[i] = stretch(surface, coarse, planes, near, reach, static_cast<uint32_t>(i * kStretch),
                            static_cast<uint32_t>(std::min(surface.size(), (i + 1) * kStretch)));
      },
      1);
  Distances out;
  for (const Distances& p : pieces) {
    out.samples.insert(out.samples.end(), p.samples.begin(), p.samples.end());
    out.values.insert(out.values.end(), p.values.begin(), p.values.end());
  }
  return out;
}

}  // namespace juvenor
