#include "core/carry/fit_by_pins.h"

#include <fmt/format.h>

#include <Eigen/QR>

namespace juvenor {

Vec3 Bend::toOld(const Vec3& place) const {
  const Vec3 moved = motion_(place);
  if (centers_.empty()) return moved;
  Vec3 out = moved + affine_.leftCols<3>() * moved + affine_.col(3);
  for (size_t i = 0; i < centers_.size(); ++i) out += (moved - centers_[i]).norm() * pull_[i];
  return out;
}

Vec3 Bend::normalToOld(const Vec3& place, const Vec3& normal) const {
  if (centers_.empty()) return motion_.turn * normal;
  // two directions in the skin, followed
  const Vec3 across = normal.unitOrthogonal(), beside = normal.cross(across);
  const Vec3 here = toOld(place);
  const float step = 1e-3f * (here - motion_.shift).norm() + 1e-3f;
  const Vec3 a = toOld(place + step * across) - here, b = toOld(place + step * beside) - here;
  return normalizedOr(motion_.turn.determinant() < 0 ? b.cross(a) : a.cross(b), motion_.turn * normal);
}

Vec3 Bend::toNew(const Vec3& place) const {
  const Similarity back = motion_.inverse();
  Vec3 at = back(place);
  if (centers_.empty()) return at;
  float best = std::numeric_limits<float>::max();
  Vec3 nearest = at;
  for (int round = 0; round < 60; ++round) {
    const Vec3 left = place - toOld(at);
    const float error = left.norm();
    if (error < best) {
      best = error;
      nearest = at;
    }
    if (error <= 1e-6f * place.norm()) break;
    at += back.scale * (back.turn * left);
  }
  return nearest;
}

Result<Bend> bendBetween(std::span<const CarryPin> pins, const Similarity& start) {
  if (pins.size() > kMostCarryPins)
    return Error{fmt::format("has {} pins; {} is the most", pins.size(), kMostCarryPins)};
  Bend out(start);
  if (pins.empty()) return out;
  std::vector<Vec3> from, to;
  for (const CarryPin& pin : pins) {
    if (!pin.old.allFinite() || !pin.fresh.allFinite()) return Error{"has a pin that lies nowhere"};
    from.push_back(pin.fresh);
    to.push_back(pin.old);
  }
  for (size_t i = 0; i < pins.size(); ++i)
    for (size_t k = 0; k < i; ++k)
      if (from[i] == from[k])
        return Error{fmt::format("pins {} and {} lie in one place of the new sculpt", k + 1, i + 1)};
  if (pins.size() < 3) {
    Vec3 shift = Vec3::Zero();
    for (size_t i = 0; i < pins.size(); ++i)
      shift += (to[i] - start(from[i])) / static_cast<float>(pins.size());
    out.motion_.shift += shift;
    return out;
  }
  const auto motion = fitPairs(from, to, true);
  if (!motion) return Error{"the pins cannot be used: " + motion.error().what};
  out.motion_ = *motion;
  const auto n = static_cast<Eigen::Index>(pins.size());
  Eigen::MatrixXd system = Eigen::MatrixXd::Zero(n + 4, n + 4), goal = Eigen::MatrixXd::Zero(n + 4, 3);
  for (const Vec3& p : from) out.centers_.push_back((*motion)(p));
  for (Eigen::Index i = 0; i < n; ++i) {
    const Eigen::Vector3d a = out.centers_[static_cast<size_t>(i)].cast<double>();
    for (Eigen::Index k = 0; k < n; ++k)
      system(i, k) = (a - out.centers_[static_cast<size_t>(k)].cast<double>()).norm();
    system.block<1, 3>(i, n) = a.transpose();
    system(i, n + 3) = 1;
    system.block<3, 1>(n, i) = a;
    system(n + 3, i) = 1;
    goal.row(i) = (to[static_cast<size_t>(i)].cast<double>() - a).transpose();
  }
  // pins in one plane say nothing of what lies across it: the smallest solution leaves that as it is
  const Eigen::MatrixXd found = system.completeOrthogonalDecomposition().solve(goal);
  if (!found.allFinite()) return Error{"the pins cannot be used: no bend goes through them"};
  for (Eigen::Index i = 0; i < n; ++i) out.pull_.push_back(found.row(i).transpose().cast<float>());
  out.affine_ = found.bottomRows<4>().transpose().cast<float>();
  return out;
}

}  // namespace juvenor
