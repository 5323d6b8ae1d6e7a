// Backward Euler steps of the heat equation, solved by conjugate gradients with a diagonal preconditioner.
// A step of time t widens a bell's variance by 2t whatever its length, so the deviation is exact in its
// second moment.
#include "core/surface/graph/melt.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_reduce.h>

#include <algorithm>
#include <cmath>

#include "core/cell_members.h"
#include "core/parallel.h"

namespace juvenor {
namespace {

using Values = std::vector<float>;

// The same sum whatever the threads do; terms may be worked out and kept on the way.
template <class F>
double sum(size_t count, F&& term) {
  return tbb::parallel_deterministic_reduce(
      tbb::blocked_range<size_t>(0, count, 8192), 0.0,
      [&](const auto& range, double s) {
        for (size_t i = range.begin(); i != range.end(); ++i) s += static_cast<double>(term(i));
        return s;
      },
      std::plus<>());
}

// One step of heat over time t: (A + tL) x = A b.
class HeatStep {
 public:
  HeatStep(const SkinGraph& graph, float t, double tolerance)
      : graph_(graph), t_(t), tolerance_(tolerance), diagonal_(graph.size()) {
    parallel(graph.size(), [&](size_t i) {
      float w = 0;
      for (uint32_t e = graph.start[i]; e < graph.start[i + 1]; ++e) w += graph.weights[e];
      diagonal_[i] = graph.areas[i] + t * w;
    });
  }

  void apply(std::span<float> x) const {
    const size_t n = graph_.size();
    Values r(n), p(n), q(n);
    const double size = sum(n, [&](size_t i) { return graph_.areas[i] * x[i] * x[i]; });
    double rz = sum(n, [&](size_t i) {
      r[i] = graph_.areas[i] * x[i] - product(x, i);
      p[i] = r[i] / diagonal_[i];
      return r[i] * p[i];
    });
    for (int k = 0; k < kMostRounds && rz > tolerance_ * tolerance_ * size; ++k) {
      const double pq = sum(n, [&](size_t i) {
        q[i] = product(p, i);
        return p[i] * q[i];
      });
      if (!(pq > 0)) break;
      const auto alpha = static_cast<float>(rz / pq);
      const double next = sum(n, [&](size_t i) {
        x[i] += alpha * p[i];
        r[i] -= alpha * q[i];
        return r[i] * r[i] / diagonal_[i];
      });
      const auto beta = static_cast<float>(next / rz);
      rz = next;
      parallel(n, [&](size_t i) { p[i] = r[i] / diagonal_[i] + beta * p[i]; });
    }
  }

 private:
  static constexpr int kMostRounds = 400;

  // One row of (A + tL) x.
  float product(std::span<const float> x, size_t i) const {
    float flow = 0;
    for (uint32_t e = graph_.start[i]; e < graph_.start[i + 1]; ++e)
      flow += graph_.weights[e] * x[graph_.neighbors[e]];
    return diagonal_[i] * x[i] - t_ * flow;
  }

  const SkinGraph& graph_;
  float t_;
  double tolerance_;
  Values diagonal_;
};

// Of the solver, as a part of the values' root mean square: for good, and for what is dragged.
constexpr double kTolerance = 1e-4, kLiveTolerance = 1e-3;

void heat(const SkinGraph& graph, std::span<float> values, float variance, int steps,
          double tolerance = kTolerance) {
  if (!(variance > 0)) return;
  const HeatStep step(graph, variance / (2 * static_cast<float>(steps)), tolerance);
  for (int i = 0; i < steps; ++i) step.apply(values);
}

Values restricted(const SkinGraph& fine, const SkinGraph& coarse, const std::vector<uint32_t>& above,
                  std::span<const float> values) {
  std::vector<double> sums(coarse.size(), 0.0);
  for (size_t i = 0; i < fine.size(); ++i)
    sums[above[i]] += static_cast<double>(fine.areas[i]) * static_cast<double>(values[i]);
  Values out(coarse.size());
  for (size_t i = 0; i < out.size(); ++i) out[i] = static_cast<float>(sums[i]) / coarse.areas[i];
  return out;
}

// How much a value is smoothed after it was brought down from cells of a width.
constexpr float kDownDeviation = 0.55f;
// What it does to the variance to gather values in cells of width 1 and spread them again: as a box twice, or
// as a box and then by blended planes, which sharpen by the spread of what they blend (R²/8 for a fade of (1
// - r²/R²)²).
constexpr float kCellVariance = 1.f / 12;
constexpr float kPlaneVariance = 1.f / 12 - kPlaneReach * kPlaneReach / 8;

// From the nodes of the second graph to those of the finest.
void spread(const SkinLadder& ladder, std::span<const float> from, std::span<float> to) {
  const BlendedPlanes planes(ladder.graphs[1], ladder.cells[1], from);
  const CellMembers members(ladder.coarser[0], from.size());
  parallel(
      from.size(),
      [&](size_t n) { planes.at(static_cast<uint32_t>(n), members.of(n), ladder.graphs[0].positions, to); },
      256);
}

}  // namespace

void melt(const SkinGraph& graph, std::span<float> values, float deviation) {
  if (values.empty()) return;
  const auto [low, high] = std::ranges::minmax(values);
  heat(graph, values, deviation * deviation, 2);
  for (float& v : values) v = std::clamp(v, low, high);
}

float varianceOfCells(float cell) {
  return kPlaneVariance * cell * cell;
}

BlendedPlanes meltedPlanes(const SkinGraph& graph, float cell, std::vector<float> values, float deviation) {
  heat(graph, values, deviation * deviation - varianceOfCells(cell), 2, kLiveTolerance);
  return {graph, cell, values};
}

void melt(const SkinLadder& ladder, std::span<float> values, float deviation) {
  if (!(deviation > 0) || values.empty()) return;
  size_t top = 0;
  while (top + 1 < ladder.graphs.size() && ladder.cells[top + 1] <= widestMeltCell(deviation)) ++top;
  float variance = deviation * deviation;
  if (top == 0) return melt(ladder.graphs[0], values, deviation);
  const auto [low, high] = std::ranges::minmax(values);
  std::vector<Values> level(top + 1);
  for (size_t k = 0; k < top; ++k) {
    const std::span<const float> below = k == 0 ? std::span<const float>(values) : std::span(level[k]);
    level[k + 1] = restricted(ladder.graphs[k], ladder.graphs[k + 1], ladder.coarser[k], below);
    const float width = ladder.cells[k + 1];
    variance -= (k == 0 ? kPlaneVariance : kDownDeviation * kDownDeviation) * width * width;
  }
  if (top > 1) variance -= kCellVariance * ladder.cells[top] * ladder.cells[top];
  heat(ladder.graphs[top], level[top], std::max(0.f, variance), 2);
  for (size_t k = top; k-- > 1;) {
    const Values& from = level[k + 1];
    parallel(level[k].size(), [&](size_t i) { level[k][i] = from[ladder.coarser[k][i]]; });
    const float width = ladder.cells[k + 1];
    heat(ladder.graphs[k], level[k], kDownDeviation * kDownDeviation * width * width, 1);
  }
  spread(ladder, level[1], values);
  for (float& v : values) v = std::clamp(v, low, high);
}

}  // namespace juvenor
