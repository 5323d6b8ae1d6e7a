#include "core/surface/fitted_sphere.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <numeric>
#include <vector>

namespace juvenor {
namespace {

// About their middle, in units of their spread, or the squares would lose the last digits.
std::optional<FittedSphere> fitTo(std::span<const Vec3> places, std::span<const uint32_t> of) {
  if (of.size() < 8) return std::nullopt;
  Eigen::Vector3d middle = Eigen::Vector3d::Zero();
  for (const uint32_t i : of) middle += places[i].cast<double>();
  middle /= static_cast<double>(of.size());
  double spread = 0;
  for (const uint32_t i : of) spread += (places[i].cast<double>() - middle).squaredNorm();
  spread = std::sqrt(spread / static_cast<double>(of.size()));
  if (!(spread > 0)) return std::nullopt;
  Eigen::Matrix4d normal = Eigen::Matrix4d::Zero();
  Eigen::Vector4d right = Eigen::Vector4d::Zero();
  for (const uint32_t i : of) {
    const Eigen::Vector3d p = (places[i].cast<double>() - middle) / spread;
    const Eigen::Vector4d row(2 * p.x(), 2 * p.y(), 2 * p.z(), 1);
    normal += row * row.transpose();
    right += p.squaredNorm() * row;
  }
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix4d> known(normal);
  // places in a plane leave a whole family of balls
  if (known.eigenvalues()[0] < 1e-7 * known.eigenvalues()[3]) return std::nullopt;
  const Eigen::Vector4d found = normal.ldlt().solve(right);
  const double radius2 = found[3] + found.head<3>().squaredNorm();
  if (!(radius2 > 0)) return std::nullopt;
  FittedSphere out;
  out.center = (middle + spread * found.head<3>()).cast<float>();
  out.radius = static_cast<float>(spread * std::sqrt(radius2));
  double off = 0;
  for (const uint32_t i : of) {
    const auto d = static_cast<double>((places[i] - out.center).norm() - out.radius);
    off += d * d;
  }
  out.off = static_cast<float>(std::sqrt(off / static_cast<double>(of.size())));
  return out;
}

}  // namespace

std::optional<FittedSphere> fittedSphere(std::span<const Vec3> places) {
  constexpr int kRounds = 6;
  constexpr double kKept = 0.7;
  std::vector<uint32_t> all(places.size());
  std::iota(all.begin(), all.end(), 0);
  auto out = fitTo(places, all);
  for (int round = 0; out && round < kRounds; ++round) {
    const auto off = [&](uint32_t i) { return std::abs((places[i] - out->center).norm() - out->radius); };
    const auto kept = static_cast<std::ptrdiff_t>(kKept * static_cast<double>(all.size()));
    std::ranges::nth_element(all, all.begin() + kept, {}, off);
    const auto next = fitTo(places, std::span(all).first(static_cast<size_t>(kept)));
    if (!next) break;
    out = next;
  }
  return out;
}

}  // namespace juvenor
