#include "core/surface/graph/gaussian_sum.h"

#include <algorithm>
#include <cmath>

#include "core/parallel.h"

namespace juvenor {
namespace {

// Three values and a spare: a neighbour's lie in one line of the cache.
using FourValues = Eigen::Array4f;
using GridField = std::vector<FourValues, Eigen::aligned_allocator<FourValues>>;

// What is left out of the polynomial, as a part of the values.
constexpr double kLeftOut = 5e-4;

// One step of the walk in numbers between −1 and 1: x = 1 − λ / rate for the Laplacian's λ in 0 … 2 rate.
struct Walk {
  float rate = 0;            // the most that flows out of a node in a unit of time, per value
  std::vector<float> share;  // of each directed edge: what flows from the neighbour, over the rate

  explicit Walk(const SkinGraph& graph);

  FourValues step(const SkinGraph& graph, const GridField& from, size_t i) const {
    const FourValues own = from[i];
    FourValues out = own;
    for (uint32_t e = graph.start[i]; e < graph.start[i + 1]; ++e)
      out += share[e] * (from[graph.neighbors[e]] - own);
    return out;
  }
};

// A few needles between the triangles would make all steps short. They are level in no time at any rate, so
// theirs is bounded by what nearly all others stay under.
float boundOfRates(std::vector<float> rates) {
  constexpr float kBeyond = 1.5f;
  if (rates.empty()) return 0;
  const size_t nearlyAll = rates.size() * 99 / 100;
  std::ranges::nth_element(rates, rates.begin() + static_cast<ptrdiff_t>(nearlyAll));
  const float bound = kBeyond * rates[nearlyAll];
  float most = 0;
  for (const float r : rates) most = std::max(most, std::min(r, bound));
  return most;
}

Walk::Walk(const SkinGraph& graph) : share(graph.weights.size()) {
  std::vector<float> rates(graph.size());
  parallel(graph.size(), [&](size_t i) {
    float flow = 0;
    for (uint32_t e = graph.start[i]; e < graph.start[i + 1]; ++e) flow += graph.weights[e];
    rates[i] = flow / graph.areas[i];
  });
  rate = boundOfRates(rates);
  if (!(rate > 0)) return;
  // an edge is narrowed alike from both ends, so that nothing is lost on the way
  parallel(graph.size(), [&](size_t i) {
    for (uint32_t e = graph.start[i]; e < graph.start[i + 1]; ++e) {
      const float most = std::max(rates[i], rates[graph.neighbors[e]]);
      share[e] = graph.weights[e] * std::min(1.f, rate / most) / (graph.areas[i] * rate);
    }
  });
}

// e^−z I_k(z) for k = 0, 1, …: the modified Bessel functions, downward from where they are nothing (Miller's
// way; Abramowitz and Stegun 9.12), scaled so that I_0 + 2 ΣI_k is e^z.
std::vector<double> scaledBessel(double z, size_t count) {
  std::vector<double> out(count, 0.0);
  if (z <= 0) {
    out[0] = 1;
    return out;
  }
  const auto start = count + 20 + static_cast<size_t>(6 * std::sqrt(z));
  double above = 0, here = 1e-300, sum = 0;
  for (size_t k = start; k > 0; --k) {
    if (k < count) out[k] = here;
    sum += 2 * here;
    const double below = above + 2 * static_cast<double>(k) / z * here;
    above = here;
    here = below;
    if (here > 1e250) {
      for (double* v : {&above, &here, &sum}) *v *= 1e-250;
      for (double& v : out) v *= 1e-250;
    }
  }
  out[0] = here;
  for (double& v : out) v /= sum + here;
  return out;
}

using Coefficients = std::vector<std::array<double, 3>>;

// Of Chebyshev's polynomials in x, cut where the rest is next to nothing; their sums are the sums of the
// parts, so that what is even stays even.
Coefficients coefficientsOf(std::span<const GaussianPart> gaussians, double rate) {
  double widest = 0;
  for (const GaussianPart& g : gaussians)
    widest = std::max(widest, 0.5 * static_cast<double>(g.variance) * rate);
  const auto enough = static_cast<size_t>(12 + 6 * std::sqrt(widest));
  Coefficients out(enough, {0, 0, 0});
  std::array<double, 3> whole{};
  for (const GaussianPart& g : gaussians) {
    const auto bessel = scaledBessel(0.5 * static_cast<double>(g.variance) * rate, enough);
    for (size_t c = 0; c < 3; ++c) {
      const auto part = static_cast<double>(g.part[c]);
      whole[c] += part;
      for (size_t k = 0; k < enough; ++k) out[k][c] += (k == 0 ? 1 : 2) * part * bessel[k];
    }
  }
  double rest = 0;
  while (out.size() > 1) {
    rest += std::ranges::max(out.back());
    if (rest > kLeftOut) break;
    out.pop_back();
  }
  for (size_t c = 0; c < 3; ++c)
    for (const auto& k : out) whole[c] -= k[c];
  for (size_t c = 0; c < 3; ++c) out[0][c] += whole[c];
  return out;
}

FourValues valuesOf(const std::array<double, 3>& v) {
  return {static_cast<float>(v[0]), static_cast<float>(v[1]), static_cast<float>(v[2]), 0};
}

}  // namespace

Result<std::vector<std::array<float, 3>>> gaussianSum(const SkinGraph& graph,
                                                      std::span<const std::array<float, 3>> values,
                                                      std::span<const GaussianPart> gaussians,
                                                      const Progress& progress) {
  const size_t n = graph.size();
  const Walk walk(graph);
  const Coefficients coefficients = coefficientsOf(gaussians, static_cast<double>(walk.rate));
  GridField before(n), here(n), out(n);
  parallel(n, [&](size_t i) {
    before[i] = {values[i][0], values[i][1], values[i][2], 0};
    out[i] = valuesOf(coefficients[0]) * before[i];
  });
  for (size_t k = 1; k < coefficients.size(); ++k) {
    if (!report(progress, static_cast<float>(k) / static_cast<float>(coefficients.size())))
      return cancelledError();
    const FourValues part = valuesOf(coefficients[k]);
    // T1 = x T0, then T(k+1) = 2 x Tk − T(k−1), written over the one before
    const bool first = k == 1;
    if (first) here.swap(before);
    parallel(n, [&](size_t i) {
      const FourValues stepped = walk.step(graph, here, i);
      before[i] = first ? stepped : FourValues(2 * stepped - before[i]);
      out[i] += part * before[i];
    });
    here.swap(before);
  }
  std::vector<std::array<float, 3>> plain(n);
  parallel(n, [&](size_t i) { plain[i] = {out[i][0], out[i][1], out[i][2]}; });
  return plain;
}

}  // namespace juvenor
