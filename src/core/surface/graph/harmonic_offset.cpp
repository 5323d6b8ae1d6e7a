#include "core/surface/graph/harmonic_offset.h"

#include <Eigen/SparseCore>
// the solvers' own headers lean on the one before
#include <Eigen/IterativeLinearSolvers>
#include <algorithm>
#include <array>
#include <limits>

#include "core/surface/graph/skin_graph.h"

namespace juvenor {
namespace {

constexpr uint32_t kOutside = std::numeric_limits<uint32_t>::max();
// Right to a thousandth of what the rim spans.
constexpr double kOffsetTolerance = 1e-4;

using Matrix = Eigen::SparseMatrix<double>;

// The place of every sample in the list, as a table over their own range: they lie near each other.
class Places {
 public:
  explicit Places(std::span<const uint32_t> samples) {
    const auto [low, high] = std::ranges::minmax(samples);
    low_ = low;
    place_.assign(high - low + 1, kOutside);
    for (uint32_t i = 0; i < samples.size(); ++i) place_[samples[i] - low] = i;
  }
  uint32_t of(uint32_t sample) const {
    return sample < low_ || sample - low_ >= place_.size() ? kOutside : place_[sample - low_];
  }

 private:
  uint32_t low_;
  std::vector<uint32_t> place_;
};

}  // namespace

void harmonicOffset(const Surface& surface, std::span<const uint32_t> samples, std::span<const char> fixed,
                    std::span<std::array<float, 3>> offset) {
  if (samples.empty() || std::ranges::none_of(fixed, [](char f) { return f != 0; })) return;
  const Places places(samples);
  std::vector<uint32_t> unknowns, number(samples.size(), kOutside);
  for (uint32_t i = 0; i < samples.size(); ++i)
    if (!fixed[i]) {
      number[i] = static_cast<uint32_t>(unknowns.size());
      unknowns.push_back(i);
    }
  if (unknowns.empty()) return;
  const auto n = static_cast<Eigen::Index>(unknowns.size());
  std::vector<Eigen::Triplet<double>> entries;
  entries.reserve(7 * unknowns.size());
  Eigen::MatrixX3d right = Eigen::MatrixX3d::Zero(n, 3), guess(n, 3);
  for (Eigen::Index row = 0; row < n; ++row) {
    const uint32_t i = unknowns[static_cast<size_t>(row)];
    for (Eigen::Index k = 0; k < 3; ++k)
      guess(row, k) = static_cast<double>(offset[i][static_cast<size_t>(k)]);
    double sum = 1e-12;  // an island without neighbours stays where it is
    for (const uint32_t sample : surface.neighborsOf(samples[i])) {
      const uint32_t other = places.of(sample);
      if (other == kOutside) continue;
      const double weight =
          static_cast<double>(std::clamp(0.5f * cotangentsAcross(surface, samples[i], sample).sum, 0.f, 8.f));
      if (weight <= 0) continue;
      sum += weight;
      if (fixed[other])
        for (Eigen::Index k = 0; k < 3; ++k)
          right(row, k) += weight * static_cast<double>(offset[other][static_cast<size_t>(k)]);
      else
        entries.emplace_back(row, number[other], -weight);
    }
    entries.emplace_back(row, row, sum);
  }
  Matrix matrix(n, n);
  matrix.setFromTriplets(entries.begin(), entries.end());
  Eigen::ConjugateGradient<Matrix, Eigen::Lower, Eigen::IncompleteCholesky<double>> solver;
  solver.setTolerance(kOffsetTolerance);
  solver.compute(matrix);
  const Eigen::MatrixX3d found = solver.solveWithGuess(right, guess);
  for (Eigen::Index row = 0; row < n; ++row)
    for (Eigen::Index k = 0; k < 3; ++k)
      offset[unknowns[static_cast<size_t>(row)]][static_cast<size_t>(k)] = static_cast<float>(found(row, k));
}

}  // namespace juvenor
