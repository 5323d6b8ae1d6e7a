#include "core/photo/fit_light.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace juvenor {
namespace {

constexpr size_t kFewestSpots = 60;
constexpr int kFitRounds = 8;
constexpr int kSweeps = 300;           // of the ways, one after the other
constexpr double kStill = 1e-7;        // of the brightest way: a sweep that changes no more is the last
constexpr double kTurnedAway = 4.685;  // Tukey's, in robust deviations: 95 % efficient on plain noise
constexpr double kHold = 1e-4;         // keeps what no spot tells near none
constexpr double kDim = 0.05;          // of the mean: what is darker deviates as if it were not

using Rows = Eigen::MatrixXd;

float part(const LinearColor& c, size_t which) {
  return which == 0 ? c.r : which == 1 ? c.g : c.b;
}

// The least squares that are nowhere below 0, coordinate by coordinate (Franc, Hlaváč, Navara 2005).
void solveNotBelowZero(const Rows& normal, const Eigen::VectorXd& right, Eigen::VectorXd& x) {
  for (int sweep = 0; sweep < kSweeps; ++sweep) {
    double moved = 0;
    for (Eigen::Index k = 0; k < x.size(); ++k) {
      const double next = std::max(0.0, x[k] + (right[k] - normal.col(k).dot(x)) / normal(k, k));
      moved = std::max(moved, std::abs(next - x[k]));
      x[k] = next;
    }
    if (moved <= kStill * x.maxCoeff()) return;
  }
}

struct LightFit {
  Rows reach;                           // spots × ways
  std::array<Eigen::VectorXd, 3> seen;  // what each colour shows
  Eigen::VectorXd weight;
  std::array<Eigen::VectorXd, 3> light;

  explicit LightFit(std::span<const LitSpot> spots)
      : reach(static_cast<Eigen::Index>(spots.size()), static_cast<Eigen::Index>(kSkyWays)),
        weight(static_cast<Eigen::Index>(spots.size())) {
    for (auto& s : seen) s.resize(weight.size());
    for (auto& l : light) l = Eigen::VectorXd::Zero(static_cast<Eigen::Index>(kSkyWays));
    for (Eigen::Index i = 0; i < weight.size(); ++i) {
      const LitSpot& spot = spots[static_cast<size_t>(i)];
      weight[i] = static_cast<double>(spot.weight);
      for (size_t w = 0; w < kSkyWays; ++w)
        reach(i, static_cast<Eigen::Index>(w)) = static_cast<double>(spot.reach[w]);
      for (size_t c = 0; c < 3; ++c) seen[c][i] = static_cast<double>(part(spot.color, c));
    }
  }

  void solve(const Eigen::VectorXd& care) {
    const Eigen::VectorXd by = weight.cwiseProduct(care);
    const Rows scaled = by.cwiseSqrt().asDiagonal() * reach;
    Rows normal = Rows::Zero(reach.cols(), reach.cols());
    normal.selfadjointView<Eigen::Lower>().rankUpdate(scaled.transpose());
    normal = Rows(normal.selfadjointView<Eigen::Lower>());
    normal.diagonal().array() += kHold * normal.trace() / static_cast<double>(kSkyWays) + 1e-300;
    for (size_t c = 0; c < 3; ++c)
      solveNotBelowZero(normal, reach.transpose() * by.cwiseProduct(seen[c]), light[c]);
  }

  // How far each spot is from the fit, of all colours, next to how bright it should be there.
  Eigen::VectorXd away() const {
    Eigen::VectorXd off = Eigen::VectorXd::Zero(weight.size()), bright = off;
    for (size_t c = 0; c < 3; ++c) {
      const Eigen::VectorXd told = reach * light[c];
      off += (seen[c] - told).cwiseAbs2();
      bright += told;
    }
    const double dim = kDim * bright.dot(weight) / weight.sum();
    return off.cwiseSqrt().cwiseQuotient((bright.array() + dim + 1e-12).matrix());
  }
};

// Less and less to what deviates; false where nothing does.
bool careFor(const Eigen::VectorXd& away, Eigen::VectorXd& care) {
  std::vector<double> sorted(away.begin(), away.end());
  const auto middle = sorted.begin() + static_cast<std::ptrdiff_t>(sorted.size() / 2);
  std::nth_element(sorted.begin(), middle, sorted.end());
  const double usual = 1.4826 * *middle;  // a deviation, of what is spread as a bell
  if (!(usual > 1e-9)) return false;
  care = away.unaryExpr([&](double a) {
    const double u = a / (kTurnedAway * usual);
    return u < 1 ? (1 - u * u) * (1 - u * u) : 0.0;
  });
  return true;
}

}  // namespace

Result<WayLight> fittedLight(std::span<const LitSpot> spots) {
  if (spots.size() < kFewestSpots)
    return Error{"too little of the skin is seen on the picture to tell its light"};
  Vec3 mean = Vec3::Zero();
  for (const LitSpot& s : spots) mean += s.normal / static_cast<float>(spots.size());
  if (mean.norm() > 0.995f) return Error{"the skin that is seen faces one way: nothing tells its light"};
  LightFit fit(spots);
  Eigen::VectorXd care = Eigen::VectorXd::Ones(fit.weight.size());
  for (int round = 0; round < kFitRounds; ++round) {
    fit.solve(care);
    if (!careFor(fit.away(), care)) break;
  }
  WayLight out;
  for (size_t c = 0; c < 3; ++c) {
    const double level = (fit.reach * fit.light[c]).dot(fit.weight) / fit.weight.sum();
    if (!fit.light[c].allFinite() || !(level > 1e-9))
      return Error{"the picture is too dark to tell its light"};
    for (size_t w = 0; w < kSkyWays; ++w)
      out[c][w] = static_cast<float>(fit.light[c][static_cast<Eigen::Index>(w)] / level);
  }
  return out;
}

}  // namespace juvenor
