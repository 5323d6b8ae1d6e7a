#include "core/surface/coarse_distance.h"

#include <Eigen/Cholesky>
#include <algorithm>

#include "core/parallel.h"
#include "core/surface/wave_front.h"

namespace juvenor {
namespace {

// In cells of the coarse skin: how far the fine front runs, from where on the coarse one is mixed in, and how
// wide a node's plane counts.
constexpr float kFine = 6, kMixed = 3, kPlaneReach = 1.8f;
constexpr float kFar = std::numeric_limits<float>::infinity();

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

// The distance as a plane over each node reached: its slope by least squares over the neighbours.
std::vector<Vec3> slopesOf(const SkinGraph& graph, const std::vector<float>& distance) {
  std::vector<Vec3> out(graph.size(), Vec3::Zero());
  parallel(
      graph.size(),
      [&](size_t n) {
        if (distance[n] == kFar) return;
        Eigen::Matrix3f spread = Eigen::Matrix3f::Zero();
        Vec3 rise = Vec3::Zero();
        for (uint32_t e = graph.start[n]; e < graph.start[n + 1]; ++e) {
          const uint32_t m = graph.neighbors[e];
          if (distance[m] == kFar) continue;
          const Vec3 step = graph.positions[m] - graph.positions[n];
          spread += step * step.transpose();
          rise += (distance[m] - distance[n]) * step;
        }
        const float size = spread.trace();
        if (!(size > 0)) return;
        spread.diagonal().array() += 1e-3f * size;
        const Vec3 slope = spread.ldlt().solve(rise);
        // no distance grows faster than the way
        out[n] = slope / std::max(1.f, slope.norm());
      },
      512);
  return out;
}

class Planes {
 public:
  Planes(const CoarseSkin& coarse, const Distances& near, float reach)
      : coarse_(coarse),
        distance_(nodeDistances(coarse, near, reach + kPlaneReach * coarse.cell())),
        slopes_(slopesOf(coarse.graph(), distance_)),
        narrow_(1 / (kPlaneReach * kPlaneReach * coarse.cell() * coarse.cell())) {}

  /// kFar where the coarse front did not come.
  float at(uint32_t sample, const Vec3& place) const {
    const uint32_t own = coarse_.nodeOf[sample];
    if (distance_[own] == kFar) return kFar;
    const SkinGraph& graph = coarse_.graph();
    float weights = 0, sum = 0;
    const auto add = [&](uint32_t node) {
      const Vec3 step = place - graph.positions[node];
      const float fade = 1 - narrow_ * step.squaredNorm();
      if (fade <= 0 || distance_[node] == kFar) return;
      weights += fade * fade;
      sum += fade * fade * (distance_[node] + slopes_[node].dot(step));
    };
    add(own);
    for (uint32_t e = graph.start[own]; e < graph.start[own + 1]; ++e) add(graph.neighbors[e]);
    return weights > 0 ? sum / weights : distance_[own];
  }

 private:
  const CoarseSkin& coarse_;
  std::vector<float> distance_;
  std::vector<Vec3> slopes_;
  float narrow_;
};

// One stretch of samples.
Distances stretch(const Surface& surface, const Planes& planes, const Distances& near, float cell,
                  float reach, uint32_t first, uint32_t end) {
  Distances out;
  size_t k = static_cast<size_t>(std::ranges::lower_bound(near.samples, first) - near.samples.begin());
  for (uint32_t s = first; s < end; ++s) {
    float distance = planes.at(s, surface.positions[s]);
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

Distances distancesFrom(const Surface& surface, const CoarseSkin& coarse, const Vec3& place, uint32_t part,
                        float reach) {
  const float cell = coarse.cell();
  Distances near = distancesFrom(surface, place, part, std::min(reach, kFine * cell));
  if (near.samples.empty() || reach <= kFine * cell) return near;
  const Planes planes(coarse, near, reach);
  constexpr size_t kStretch = 16384;
  std::vector<Distances> pieces((surface.size() + kStretch - 1) / kStretch);
  parallel(
      pieces.size(),
      [&](size_t i) {
        pieces[i] = stretch(surface, planes, near, cell, reach, static_cast<uint32_t>(i * kStretch),
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
