#include "core/growth/reaction_diffusion.h"

#include <algorithm>
#include <cmath>

#include "core/parallel.h"
#include "core/seeded.h"

namespace juvenor {
namespace {

// Of the model: how fast the first substance spreads; the second half as fast.
constexpr float kSpreadOfFirst = 0.16f;
// Nodes from one spot to the next, at least.
constexpr float kNodesInWave = 7;
// The part of what a node holds that may leave it in one step.
constexpr float kMostLeaves = 0.8f;

// Of each directed edge: what of the difference between its ends flows in a step, times the area.
std::vector<float> flowsOf(const ReactionGround& ground, const ReactionSetting& setting) {
  const SkinGraph& graph = ground.level.graph();
  const auto length = [&](size_t n) { return ground.sizes[n] / setting.wavelength; };
  std::vector<float> out(graph.neighbors.size());
  std::vector<float> leaves(graph.size(), 0);
  parallel(
      graph.size(),
      [&](size_t i) {
        for (uint32_t e = graph.start[i]; e < graph.start[i + 1]; ++e) {
          const uint32_t n = graph.neighbors[e];
          const Vec3 step = graph.positions[n] - graph.positions[i];
          const float far2 = std::max(step.squaredNorm(), 1e-30f);
          const auto along = [&](const Vec3& way) { return way.dot(step) * way.dot(step) / far2; };
          const float part = 0.5f * (along(ground.along[i]) + along(ground.along[n]));
          const float faster = part * setting.stretch + (1 - part) / setting.stretch;
          out[e] = kSpreadOfFirst * graph.weights[e] * length(i) * length(n) * faster;
          leaves[i] += out[e];
        }
      },
      2048);
  // as much each way, or what flows would not stay as much as it was
  const auto allowed = [&](size_t n) {
    return std::min(1.f, kMostLeaves * graph.areas[n] / std::max(leaves[n], 1e-30f));
  };
  parallel(
      graph.size(),
      [&](size_t i) {
        for (uint32_t e = graph.start[i]; e < graph.start[i + 1]; ++e)
          out[e] *= std::min(allowed(i), allowed(graph.neighbors[e]));
      },
      2048);
  return out;
}

}  // namespace

ReactionGround reactionGround(const Surface& surface, const std::shared_ptr<const SkinLadder>& ladder,
                              std::span<const Vec3> directions, std::span<const float> sizes, float finest) {
  ReactionGround out{skinLevel(ladder, finest / kNodesInWave), {}, {}};
  const size_t nodes = out.level.graph().size();
  out.along.assign(nodes, Vec3::Zero());
  out.sizes.assign(nodes, 0);
  std::vector<float> areas(nodes, 0);
  for (uint32_t s = 0; s < surface.size(); ++s) {
    const uint32_t n = out.level.over(s);
    const float area = std::max(surface.areas[s], 1e-30f);
    const float way = out.along[n].dot(directions[s]) < 0 ? -1.f : 1.f;
    out.along[n] += way * area * directions[s];
    out.sizes[n] += area * sizes[s];
    areas[n] += area;
  }
  for (size_t n = 0; n < nodes; ++n) {
    out.along[n] = normalizedOr(out.along[n], Vec3::Zero());
    out.sizes[n] /= areas[n];
  }
  return out;
}

Substances sown(const ReactionGround& ground, uint32_t seed) {
  const SkinGraph& graph = ground.level.graph();
  Substances out{std::vector<float>(graph.size(), 1), std::vector<float>(graph.size(), 0)};
  for (size_t n = 0; n < graph.size(); ++n) {
    // so many drops that each spot-to-be has about one, each as large as a node and those around it
    const float share = 1.2f * graph.areas[n] / (ground.sizes[n] * ground.sizes[n]);
    if (Draws(seed, n).unit() >= share) continue;
    const auto drop = [&](size_t at) {
      out.u[at] = 0.5f;
      out.v[at] = 0.3f;
    };
    drop(n);
    for (uint32_t e = graph.start[n]; e < graph.start[n + 1]; ++e) drop(graph.neighbors[e]);
  }
  return out;
}

Outcome react(const ReactionGround& ground, const ReactionSetting& setting, Substances& substances,
              const Progress& progress) {
  constexpr int kBetweenReports = 25;
  const SkinGraph& graph = ground.level.graph();
  const std::vector<float> flows = flowsOf(ground, setting);
  using Pair = std::array<float, 2>;
  std::vector<Pair> now(graph.size()), next(graph.size());
  for (size_t i = 0; i < now.size(); ++i) now[i] = {substances.u[i], substances.v[i]};
  for (int step = 0; step < setting.steps; ++step) {
    if (step % kBetweenReports == 0 &&
        !report(progress, static_cast<float>(step) / static_cast<float>(setting.steps)))
      return cancelledError();
    parallel(
        graph.size(),
        [&](size_t i) {
          const auto [u, v] = now[i];
          float du = 0, dv = 0;
          for (uint32_t e = graph.start[i]; e < graph.start[i + 1]; ++e) {
            const Pair& other = now[graph.neighbors[e]];
            du += flows[e] * (other[0] - u);
            dv += flows[e] * (other[1] - v);
          }
          du /= graph.areas[i];
          dv *= 0.5f / graph.areas[i];
          if (setting.reacts) {
            const float turned = u * v * v;
            du += setting.feed * (1 - u) - turned;
            dv += turned - (setting.feed + setting.kill) * v;
          }
          next[i] = {u + du, v + dv};
        },
        4096);
    now.swap(next);
  }
  for (size_t i = 0; i < now.size(); ++i) {
    substances.u[i] = now[i][0];
    substances.v[i] = now[i][1];
  }
  return Done{};
}

std::vector<float> spreadOver(const Surface& surface, const ReactionGround& ground,
                              std::span<const float> values) {
  constexpr float kReach = 1.9f;  // cells
  const SkinGraph& graph = ground.level.graph();
  const float reach2 = kReach * kReach * ground.level.cell() * ground.level.cell();
  std::vector<float> out(surface.size());
  parallel(
      out.size(),
      [&](size_t s) {
        const uint32_t own = ground.level.over(static_cast<uint32_t>(s));
        if (ground.level.nodeOf.empty()) {
          out[s] = values[s];
          return;
        }
        float sum = 0, weights = 0;
        const auto take = [&](uint32_t node, float least) {
          const float r2 = (surface.positions[s] - graph.positions[node]).squaredNorm() / reach2;
          const float weight = std::max(least, r2 < 1 ? (1 - r2) * (1 - r2) : 0.f);
          sum += weight * values[node];
          weights += weight;
        };
        take(own, 1e-3f);
        for (uint32_t e = graph.start[own]; e < graph.start[own + 1]; ++e) take(graph.neighbors[e], 0);
        out[s] = sum / weights;
      },
      2048);
  return out;
}

}  // namespace juvenor
