#include "core/photo/fit_light.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/harmonics.h"
#include "core/photo/normal_equations.h"

namespace juvenor {
namespace {

constexpr size_t kFewestSpots = 60;
constexpr int kFitRounds = 8;
constexpr double kTurnedAway = 4.685;  // Tukey's, in robust deviations: 95 % efficient on plain noise
constexpr double kHold = 1e-5;         // keeps what half a sphere of normals does not tell near none

using Nine = Eigen::Matrix<double, 9, 1>;

Nine basisOf(const Vec3& normal) {
  const Harmonics h = harmonicsAt(normal);
  Nine out;
  for (int k = 0; k < 9; ++k) out[k] = static_cast<double>(h[static_cast<size_t>(k)]);
  return out;
}

float part(const LinearColor& c, size_t which) {
  return which == 0 ? c.r : which == 1 ? c.g : c.b;
}

Nine fitted(const std::vector<Nine>& basis, std::span<const LitSpot> spots, size_t color) {
  std::vector<double> care(spots.size(), 1.0), away(spots.size());
  Nine out = Nine::Zero();
  for (int round = 0; round < kFitRounds; ++round) {
    Eigen::Matrix<double, 9, 9> normal = Eigen::Matrix<double, 9, 9>::Zero();
    Nine right = Nine::Zero();
    double all = 0;
    for (size_t i = 0; i < spots.size(); ++i) {
      const double w = care[i] * static_cast<double>(spots[i].weight);
      addRow<9>(basis[i], static_cast<double>(part(spots[i].color, color)), w, normal, right);
      all += w;
    }
    for (int k = 1; k < 9; ++k) normal(k, k) += kHold * all;
    out = solvedNormal<9>(normal, right);
    for (size_t i = 0; i < spots.size(); ++i)
      away[i] = std::abs(static_cast<double>(part(spots[i].color, color)) - out.dot(basis[i]));
    std::vector<double> sorted = away;
    const auto middle = sorted.begin() + static_cast<std::ptrdiff_t>(sorted.size() / 2);
    std::nth_element(sorted.begin(), middle, sorted.end());
    const double usual = 1.4826 * *middle;  // a deviation, of what is spread as a bell
    if (!(usual > 1e-9)) break;
    for (size_t i = 0; i < spots.size(); ++i) {
      const double u = away[i] / (kTurnedAway * usual);
      care[i] = u < 1 ? (1 - u * u) * (1 - u * u) : 0;
    }
  }
  return out;
}

}  // namespace

Result<LightNumbers> fittedLight(std::span<const LitSpot> spots) {
  if (spots.size() < kFewestSpots)
    return Error{"too little of the skin is seen on the picture to tell its light"};
  std::vector<Nine> basis;
  basis.reserve(spots.size());
  Vec3 mean = Vec3::Zero();
  for (const LitSpot& s : spots) {
    basis.push_back(basisOf(s.normal));
    mean += s.normal / static_cast<float>(spots.size());
  }
  if (mean.norm() > 0.995f) return Error{"the skin that is seen faces one way: nothing tells its light"};
  LightNumbers out;
  for (size_t c = 0; c < 3; ++c) {
    const Nine light = fitted(basis, spots, c);
    double sum = 0, all = 0;
    for (size_t i = 0; i < spots.size(); ++i) {
      sum += static_cast<double>(spots[i].weight) * light.dot(basis[i]);
      all += static_cast<double>(spots[i].weight);
    }
    const double level = sum / all;
    if (!light.allFinite() || !(level > 1e-9)) return Error{"the picture is too dark to tell its light"};
    for (size_t k = 0; k < 9; ++k)
      out[c][k] = static_cast<float>(light[static_cast<Eigen::Index>(k)] / level);
  }
  return out;
}

}  // namespace juvenor
