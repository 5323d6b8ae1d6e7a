#include "core/surface/stripe_field.h"

#include <algorithm>
#include <cmath>

#include "core/parallel.h"

namespace juvenor {
namespace {

using Phase = std::complex<float>;

constexpr float kWholeTurn = 6.2831853f;
constexpr float kNodesInPeriod = 5;
// Steps on each level: most where a cell is about as wide as a stripe, since there forks find their places.
constexpr int kStripeSweeps = 30, kForkSweeps = 250;

// The nodes of one level with the way stripes run there.
struct StripeLevel {
  const SkinGraph* graph;
  std::vector<Vec3> waves;  // along the direction, turns in a scene unit
};

// What a phase gains from one place to another: along the way the wave runs half way, and as much more as an
// arc is longer than its chord.
Phase gained(const Vec3& wave, const Vec3& waveThere, const Vec3& step) {
  const float here = wave.norm(), there = waveThere.norm();
  if (!(here > 0) || !(there > 0)) return {1, 0};
  const Vec3 both = 0.5f * (wave / here + waveThere / there);
  const float cosine = both.norm();  // of half the angle between them
  if (!(cosine > 0.3f)) return {1, 0};
  const float sine = std::sqrt(std::max(0.f, 1 - cosine * cosine));
  const float longer = sine > 1e-3f ? std::atan2(sine, cosine) / sine : 1.f;
  const float turns = 0.5f * (here + there) * longer * both.dot(step) / cosine;
  return std::polar(1.f, kWholeTurn * (turns - std::floor(turns)));
}

std::vector<Vec3> wavesUp(const SkinGraph& fine, const std::vector<Vec3>& waves,
                          std::span<const uint32_t> above, size_t count) {
  std::vector<Vec3> out(count, Vec3::Zero());
  std::vector<float> lengths(count, 0), areas(count, 0);
  for (size_t i = 0; i < waves.size(); ++i) {
    out[above[i]] += fine.areas[i] * waves[i];
    lengths[above[i]] += fine.areas[i] * waves[i].norm();
    areas[above[i]] += fine.areas[i];
  }
  // as many turns as there were, whatever the ways they ran
  for (size_t n = 0; n < count; ++n)
    out[n] = normalizedOr(out[n], Vec3::Zero()) * (lengths[n] / std::max(areas[n], 1e-30f));
  return out;
}

void smooth(const StripeLevel& level, int sweeps, std::vector<Phase>& z) {
  const SkinGraph& graph = *level.graph;
  std::vector<Phase> next(z.size()), gains(graph.neighbors.size());
  parallel(
      z.size(),
      [&](size_t i) {
        for (uint32_t e = graph.start[i]; e < graph.start[i + 1]; ++e) {
          const uint32_t n = graph.neighbors[e];
          gains[e] = graph.weights[e] *
                     gained(level.waves[n], level.waves[i], graph.positions[i] - graph.positions[n]);
        }
      },
      2048);
  for (int s = 0; s < sweeps; ++s) {
    parallel(
        z.size(),
        [&](size_t i) {
          Phase sum = 0;
          for (uint32_t e = graph.start[i]; e < graph.start[i + 1]; ++e)
            sum += gains[e] * z[graph.neighbors[e]];
          const float length = std::abs(sum);
          // half way, so that neighbours do not swap places for ever
          const Phase mean = length > 1e-20f ? z[i] + sum / length : 2.f * z[i];
          const float both = std::abs(mean);
          next[i] = both > 1e-6f ? mean / both : z[i];
        },
        2048);
    z.swap(next);
  }
}

// Between the nodes: each tells what its own wave makes of the step to the sample.
StripeField spreadStripes(const Surface& surface, const SkinLevel& ground, const StripeLevel& level,
                          std::span<const Phase> z) {
  constexpr float kReach = 1.8f;  // cells
  const SkinGraph& graph = *level.graph;
  const float reach2 = kReach * kReach * ground.cell() * ground.cell();
  StripeField out;
  out.phases.resize(surface.size());
  parallel(
      surface.size(),
      [&](size_t s) {
        const uint32_t own = ground.over(static_cast<uint32_t>(s));
        Phase sum = 0;
        const auto take = [&](uint32_t node, float least) {
          const Vec3 step = surface.positions[s] - graph.positions[node];
          const float r2 = step.squaredNorm() / reach2;
          const float weight = std::max(least, r2 < 1 ? (1 - r2) * (1 - r2) : 0.f);
          sum += weight * z[node] * gained(level.waves[node], level.waves[own], step);
        };
        take(own, 1e-3f);
        if (!ground.nodeOf.empty())
          for (uint32_t e = graph.start[own]; e < graph.start[own + 1]; ++e) take(graph.neighbors[e], 0);
        const float turn = std::arg(sum) / kWholeTurn;
        out.phases[s] = static_cast<uint16_t>(static_cast<int>(std::floor((turn + 1) * 65536)) & 0xffff);
      },
      2048);
  return out;
}

// The waves of the ground's level and of all above it.
std::vector<StripeLevel> stripeLevels(const Surface& surface, const SkinLevel& ground,
                                      std::span<const Vec3> directions, std::span<const float> periods) {
  const SkinLadder& ladder = *ground.ladder;
  std::vector<Vec3> waves(surface.size());
  parallel(waves.size(), [&](size_t s) { waves[s] = directions[s] / std::max(periods[s], 1e-20f); });
  for (size_t l = 0; l < ground.level; ++l)
    waves = wavesUp(ladder.graphs[l], waves, ladder.coarser[l], ladder.graphs[l + 1].size());
  std::vector<StripeLevel> out{{&ladder.graphs[ground.level], std::move(waves)}};
  for (size_t l = ground.level; l + 1 < ladder.graphs.size(); ++l)
    out.push_back({&ladder.graphs[l + 1], wavesUp(ladder.graphs[l], out.back().waves, ladder.coarser[l],
                                                  ladder.graphs[l + 1].size())});
  return out;
}

}  // namespace

Result<StripeField> stripeField(const Surface& surface, const std::shared_ptr<const SkinLadder>& ladder,
                                std::span<const Vec3> directions, std::span<const float> periods,
                                float finest, const Progress& progress) {
  const SkinLevel ground = skinLevel(ladder, finest / kNodesInPeriod);
  const std::vector<StripeLevel> levels = stripeLevels(surface, ground, directions, periods);
  std::vector<Phase> z(levels.back().graph->size(), Phase(1, 0));
  for (size_t l = levels.size(); l-- > 0;) {
    if (!report(progress, 0.1f + 0.8f / static_cast<float>(l + 1))) return cancelledError();
    if (l + 1 < levels.size()) {
      std::vector<Phase> down(levels[l].graph->size());
      const auto& above = ladder->coarser[ground.level + l];
      parallel(down.size(), [&](size_t i) {
        const uint32_t up = above[i];
        down[i] = z[up] * gained(levels[l + 1].waves[up], levels[l].waves[i],
                                 levels[l].graph->positions[i] - levels[l + 1].graph->positions[up]);
      });
      z = std::move(down);
    }
    const float cell = ladder->cells[ground.level + l];
    smooth(levels[l], cell > 0.3f * finest && cell < 1.3f * finest ? kForkSweeps : kStripeSweeps, z);
  }
  return spreadStripes(surface, ground, levels[0], z);
}

}  // namespace juvenor
