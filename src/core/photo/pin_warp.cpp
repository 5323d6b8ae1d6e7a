#include "core/photo/pin_warp.h"

#include <Eigen/LU>
#include <Eigen/QR>
#include <Eigen/SVD>
#include <algorithm>
#include <cmath>

namespace juvenor {
namespace {

// Pins nearer than this part of the whole are one; lines flatter than that are a line.
constexpr float kSame = 1e-5f, kFlat = 2e-3f;

std::vector<PinnedPair> apart(std::span<const PinnedPair> pins) {
  std::vector<PinnedPair> out;
  float whole = 0;
  for (const PinnedPair& p : pins) whole = std::max(whole, (p.from - pins.front().from).norm());
  for (const PinnedPair& p : pins)
    if (std::ranges::none_of(
            out, [&](const PinnedPair& o) { return (o.from - p.from).norm() <= kSame * (whole + 1e-20f); }))
      out.push_back(p);
  return out;
}

PinnedPair meanOf(std::span<const PinnedPair> pins) {
  PinnedPair out;
  for (const PinnedPair& p : pins) {
    out.from += p.from;
    out.to += p.to;
  }
  const auto count = static_cast<float>(pins.size());
  return {out.from / count, out.to / count};
}

// The linear part of what is nearest to the pins, moved so that their means meet.
Affine2 through(const Eigen::Matrix2f& linear, const PinnedPair& mean) {
  return {linear, mean.to - linear * mean.from};
}

// Turned and scaled, and on the side (mirrored or not) that it lay on.
Eigen::Matrix2f similarity(std::span<const PinnedPair> pins, const PinnedPair& mean, bool mirrored) {
  const float side = mirrored ? -1.f : 1.f;
  float along = 0, across = 0, size = 0;
  for (const PinnedPair& p : pins) {
    const Vec2 from = p.from - mean.from, to = p.to - mean.to;
    const Vec2 seen(from.x(), side * from.y());
    along += seen.dot(to);
    across += seen.x() * to.y() - seen.y() * to.x();
    size += from.squaredNorm();
  }
  Eigen::Matrix2f turned;
  turned << along, -across, across, along;
  return turned / size * Vec2(1, side).asDiagonal();
}

// Nothing where all pins lie on a line.
std::optional<Eigen::Matrix2f> sheared(std::span<const PinnedPair> pins, const PinnedPair& mean) {
  Eigen::Matrix2d spread = Eigen::Matrix2d::Zero(), both = spread;
  for (const PinnedPair& p : pins) {
    const Eigen::Vector2d from = (p.from - mean.from).cast<double>(), to = (p.to - mean.to).cast<double>();
    spread += from * from.transpose();
    both += to * from.transpose();
  }
  // the product of the half axes' squares next to their sum's
  const double whole = spread.trace() * spread.trace();
  if (!(spread.determinant() > static_cast<double>(kFlat * kFlat) * whole)) return std::nullopt;
  return (both * spread.inverse()).cast<float>();
}

// Bookstein's U(r) = r² log r², by r².
double plate(double squared) {
  return squared > 0 ? squared * std::log(squared) : 0;
}

}  // namespace

PinWarp::PinWarp(std::span<const PinnedPair> all, const Affine2& unpinned) : affine_(unpinned) {
  const std::vector<PinnedPair> pins = apart(all);
  if (pins.empty()) return;
  const PinnedPair mean = meanOf(pins);
  if (pins.size() == 1) {
    affine_ = through(unpinned.linear, mean);
    return;
  }
  const auto shear = pins.size() > 2 ? sheared(pins, mean) : std::nullopt;
  affine_ = through(shear ? *shear : similarity(pins, mean, unpinned.linear.determinant() < 0), mean);
  if (pins.size() > 3 && shear) bend(pins);
}

// The plate's forces and the affine part in one system (Bookstein 1989, equation 8), in double.
void PinWarp::bend(std::span<const PinnedPair> pins) {
  const auto n = static_cast<Eigen::Index>(pins.size());
  Eigen::MatrixXd system = Eigen::MatrixXd::Zero(n + 3, n + 3);
  Eigen::MatrixX2d wanted = Eigen::MatrixX2d::Zero(n + 3, 2);
  for (Eigen::Index i = 0; i < n; ++i) {
    const Eigen::Vector2d from = pins[static_cast<size_t>(i)].from.cast<double>();
    for (Eigen::Index j = 0; j < n; ++j)
      system(i, j) = plate((from - pins[static_cast<size_t>(j)].from.cast<double>()).squaredNorm());
    system.row(i).tail<3>() << 1, from.x(), from.y();
    system.col(i).tail<3>() << 1, from.x(), from.y();
    wanted.row(i) = pins[static_cast<size_t>(i)].to.cast<double>();
  }
  const Eigen::FullPivLU<Eigen::MatrixXd> solved(system);
  if (!solved.isInvertible()) return;
  const Eigen::MatrixX2d x = solved.solve(wanted);
  affine_.offset = x.row(n).transpose().cast<float>();
  affine_.linear.col(0) = x.row(n + 1).transpose().cast<float>();
  affine_.linear.col(1) = x.row(n + 2).transpose().cast<float>();
  for (Eigen::Index i = 0; i < n; ++i)
    knots_.push_back({pins[static_cast<size_t>(i)].from, x.row(i).transpose().cast<float>()});
}

Vec2 PinWarp::operator()(const Vec2& x) const {
  Vec2 out = affine_(x);
  for (const Knot& k : knots_) {
    const float squared = (x - k.at).squaredNorm();
    if (squared > 0) out += squared * std::log(squared) * k.pull;
  }
  return out;
}

Eigen::Matrix2f PinWarp::slope(const Vec2& x) const {
  Eigen::Matrix2f out = affine_.linear;
  for (const Knot& k : knots_) {
    const Vec2 d = x - k.at;
    const float squared = d.squaredNorm();
    if (squared > 0) out += k.pull * (2 * (std::log(squared) + 1) * d).transpose();
  }
  return out;
}

}  // namespace juvenor
