#include "core/growth/stripe_field.h"

#include <algorithm>
#include <cmath>
#include <complex>

#include "core/parallel.h"

namespace juvenor {
namespace {

using Phase = std::complex<float>;

constexpr float kWholeTurn = 6.2831853f;
constexpr float kNodesInPeriod = 5;
// Steps on each level: most where a cell is about as wide as a stripe, since there forks find their places.
constexpr int kStripeSweeps = 30, kForkSweeps = 250;

// A wave: the unit way it runs, and its turns in a scene unit.
struct Wave {
  Vec3 way = Vec3::Zero();
  float turns = 0;
};

// The nodes of one level with the waves there.
struct StripeLevel {
  const SkinGraph* graph;
  std::vector<Wave> waves;
};

// Products and lengths without the care for infinities that the library takes.
Phase times(const Phase& a, const Phase& b) {
  return {a.real() * b.real() - a.imag() * b.imag(), a.real() * b.imag() + a.imag() * b.real()};
}
float lengthOf(const Phase& z) {
  return std::sqrt(z.real() * z.real() + z.imag() * z.imag());
}

// To six digits: an eighth of a turn either way by its series, the rest by quarters.
Phase phaseOf(float turns) {
  turns -= std::floor(turns);
  const float quarters = std::floor(4 * turns + 0.5f);
  const float a = kWholeTurn * (turns - 0.25f * quarters), a2 = a * a;
  const float sine = a * (1 + a2 * (-1 / 6.f + a2 * (1 / 120.f - a2 / 5040)));
  const float cosine = 1 + a2 * (-0.5f + a2 * (1 / 24.f + a2 * (-1 / 720.f + a2 / 40320)));
  const int quarter = static_cast<int>(quarters) & 3;
  // chosen without a branch, which would be guessed wrong most times
  const float real = quarter & 1 ? sine : cosine, imaginary = quarter & 1 ? cosine : sine;
  return {quarter == 1 || quarter == 2 ? -real : real, quarter >= 2 ? -imaginary : imaginary};
}

// An arc by its chord, from the square of the sine of half the angle between its ends.
float longerThanChord(float sine2) {
  if (sine2 < 0.1f) return 1 + sine2 * (1 / 6.f + sine2 * (3 / 40.f + sine2 * (5 / 112.f)));
  const float sine = std::sqrt(sine2);
  return std::asin(sine) / sine;
}

// The turns of a wave in a scene unit along each axis, between two places: along the way it runs half way,
// and as much more as an arc is longer than its chord.
Vec3 turnsBetween(const Wave& wave, const Wave& waveThere) {
  constexpr float kLeastCosine2 = 0.09f;
  const Vec3 both = 0.5f * (wave.way + waveThere.way);
  const float cosine2 = both.squaredNorm();  // of half the angle between them
  if (!(cosine2 > kLeastCosine2)) return Vec3::Zero();
  const float longer = longerThanChord(std::clamp(1 - cosine2, 0.f, 1.f));
  return 0.5f * (wave.turns + waveThere.turns) * longer / std::sqrt(cosine2) * both;
}

// What a phase gains from one place to another.
Phase gained(const Wave& wave, const Wave& waveThere, const Vec3& step) {
  return phaseOf(turnsBetween(wave, waveThere).dot(step));
}

// As many turns as there were below, whatever the ways they ran.
std::vector<Wave> wavesUp(const SkinGraph& fine, const std::vector<Wave>& waves,
                          std::span<const uint32_t> above, size_t count) {
  std::vector<Wave> out(count);
  std::vector<float> areas(count, 0);
  for (size_t i = 0; i < waves.size(); ++i) {
    const float turns = fine.areas[i] * waves[i].turns;
    out[above[i]].way += turns * waves[i].way;
    out[above[i]].turns += turns;
    areas[above[i]] += fine.areas[i];
  }
  for (size_t n = 0; n < count; ++n)
    out[n] = {normalizedOr(out[n].way, Vec3::Zero()), out[n].turns / std::max(areas[n], 1e-30f)};
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
            sum += times(gains[e], z[graph.neighbors[e]]);
          const float length = lengthOf(sum);
          // half way, so that neighbours do not swap places for ever
          const Phase mean = length > 1e-20f ? z[i] + sum / length : 2.f * z[i];
          const float both = lengthOf(mean);
          next[i] = both > 1e-6f ? mean / both : z[i];
        },
        2048);
    z.swap(next);
  }
}

// Between the nodes: each tells what its own wave makes of the step to the sample.
StripeField spreadStripes(const Surface& surface, const SkinLevel& ground, const StripeLevel& level,
                          std::span<const Phase> z) {
  constexpr float kReach = 1.5f;  // cells
  const SkinGraph& graph = *level.graph;
  const float reach2 = kReach * kReach * ground.cell() * ground.cell();
  // more samples than nodes ask: what is the same for all over a node is worked out once
  std::vector<float> turns(graph.size());
  std::vector<Vec3> along(graph.neighbors.size());
  parallel(
      turns.size(),
      [&](size_t n) {
        turns[n] = std::arg(z[n]) / kWholeTurn;
        for (uint32_t e = graph.start[n]; e < graph.start[n + 1]; ++e)
          along[e] = turnsBetween(level.waves[graph.neighbors[e]], level.waves[n]);
      },
      2048);
  StripeField out;
  out.phases.resize(surface.size());
  parallel(
      surface.size(),
      [&](size_t s) {
        const uint32_t own = ground.over(static_cast<uint32_t>(s));
        Phase sum = 0;
        const auto take = [&](uint32_t node, const Vec3& way, float least) {
          const Vec3 step = surface.positions[s] - graph.positions[node];
          const float r2 = step.squaredNorm() / reach2;
          const float weight = std::max(least, r2 < 1 ? (1 - r2) * (1 - r2) : 0.f);
          if (weight > 0) sum += weight * phaseOf(turns[node] + way.dot(step));
        };
        take(own, level.waves[own].turns * level.waves[own].way, 1e-3f);
        if (!ground.nodeOf.empty())
          for (uint32_t e = graph.start[own]; e < graph.start[own + 1]; ++e)
            take(graph.neighbors[e], along[e], 0);
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
  std::vector<Wave> waves(surface.size());
  parallel(waves.size(), [&](size_t s) { waves[s] = {directions[s], 1 / std::max(periods[s], 1e-20f)}; });
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
        down[i] = times(z[up], gained(levels[l + 1].waves[up], levels[l].waves[i],
                                      levels[l].graph->positions[i] - levels[l + 1].graph->positions[up]));
      });
      z = std::move(down);
    }
    const float cell = ladder->cells[ground.level + l];
    smooth(levels[l], cell > 0.3f * finest && cell < 1.3f * finest ? kForkSweeps : kStripeSweeps, z);
  }
  return spreadStripes(surface, ground, levels[0], z);
}

}  // namespace juvenor
