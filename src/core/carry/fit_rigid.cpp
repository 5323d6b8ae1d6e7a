#include "core/carry/fit_rigid.h"

#include <Eigen/Eigenvalues>
#include <algorithm>
#include <cmath>
#include <limits>

#include "core/parallel.h"

namespace juvenor {

Similarity Similarity::inverse() const {
  Similarity out;
  out.scale = 1 / scale;
  out.turn = turn.transpose();
  out.shift = -(out.scale * (out.turn * shift));
  return out;
}

Similarity Similarity::after(const Similarity& first) const {
  return {scale * first.scale, turn * first.turn, (*this)(first.shift)};
}

namespace {

Eigen::Matrix3Xd columns(std::span<const Vec3> points) {
  Eigen::Matrix3Xd out(3, static_cast<Eigen::Index>(points.size()));
  for (size_t i = 0; i < points.size(); ++i) out.col(static_cast<Eigen::Index>(i)) = points[i].cast<double>();
  return out;
}

// Whether the points lie on one line, or in one place.
bool onOneLine(const Eigen::Matrix3Xd& points) {
  const Eigen::Matrix3Xd centred = points.colwise() - points.rowwise().mean();
  // squares of the lengths along the main directions, the longest last
  const Eigen::Matrix3d spread = centred * centred.transpose();
  const Eigen::Vector3d squares =
      Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d>(spread, Eigen::EigenvaluesOnly).eigenvalues();
  return !(squares[1] > 1e-8 * squares[2]);
}

}  // namespace

Result<Similarity> fitPairs(std::span<const Vec3> from, std::span<const Vec3> to, bool scaled,
                            bool reflected) {
  if (from.size() != to.size() || from.size() < 3) return Error{"needs three pairs of places at least"};
  Eigen::Matrix3Xd a = columns(from);
  const Eigen::Matrix3Xd b = columns(to);
  if (onOneLine(a) || onOneLine(b)) return Error{"its places lie on one line, which says no way to turn"};
  // a mirror image is the image in x = 0 turned
  if (reflected) a.row(0) *= -1;
  const Eigen::Matrix4d m = Eigen::umeyama(a, b, scaled);
  const double scale = std::cbrt(m.topLeftCorner<3, 3>().determinant());
  if (!(scale > 0) || !m.allFinite()) return Error{"its places say no way to turn"};
  Eigen::Matrix3d turn = m.topLeftCorner<3, 3>() / scale;
  if (reflected) turn.col(0) *= -1;
  Similarity out;
  out.scale = scaled ? static_cast<float>(scale) : 1.f;
  out.turn = turn.cast<float>();
  out.shift = m.topRightCorner<3, 1>().cast<float>();
  return out;
}

FitPoints fitPointsOf(const Surface& surface, size_t count, uint32_t part) {
  std::vector<uint32_t> of;
  for (uint32_t s = 0; s < surface.size(); ++s)
    if (part == kNone || surface.parts[s] == part) of.push_back(s);
  const size_t take = std::min(count, of.size());
  FitPoints out;
  for (size_t i = 0; i < take; ++i) {
    const uint32_t s = of[i * of.size() / take];
    out.positions.push_back(surface.positions[s]);
    out.normals.push_back(surface.normals[s]);
  }
  return out;
}

namespace {

struct Pairs {
  std::vector<Vec3> from, to, normals;  ///< places as they are moved now, the nearest, and the way those look
  float mean = 0, found = 0;
};

// The nearest places, of those that are found the nearer part.
Pairs pairsOf(const FitPoints& points, const Rays& onto, const Similarity& motion,
              const FitSetting& setting) {
  const size_t count = points.positions.size();
  std::vector<std::optional<Hit>> hits(count);
  parallel(
      count,
      [&](size_t i) {
        const Rays::Alike alike{motion.turn * points.normals[i], 0.5f, setting.parts};
        hits[i] = onto.nearestAlike(motion(points.positions[i]), setting.reach, alike);
      },
      64);
  std::vector<float> distances;
  for (const auto& hit : hits)
    if (hit) distances.push_back(hit->distance);
  Pairs out;
  out.found = count ? static_cast<float>(distances.size()) / static_cast<float>(count) : 0;
  if (distances.empty()) return out;
  std::ranges::sort(distances);
  const auto kept = static_cast<size_t>(setting.keep * static_cast<float>(distances.size() - 1));
  const float worst = distances[kept];
  for (size_t i = 0; i <= kept; ++i) out.mean += distances[i] / static_cast<float>(kept + 1);
  for (size_t i = 0; i < count; ++i) {
    if (!hits[i] || hits[i]->distance > worst) continue;
    const SurfacePoint to = onto.pointOf(*hits[i], Vec3::UnitZ());
    out.from.push_back(motion(points.positions[i]));
    out.to.push_back(to.position);
    out.normals.push_back(to.normal);
  }
  return out;
}

// The small turn and shift that bring places onto the planes of their nearest skin with the least sum of
// squares; directions that nothing is said of stay.
Similarity towardPlanes(const Pairs& pairs) {
  using Vector6 = Eigen::Matrix<double, 6, 1>;
  Eigen::Vector3d middle = Eigen::Vector3d::Zero();
  for (const Vec3& p : pairs.from) middle += p.cast<double>() / static_cast<double>(pairs.from.size());
  double size = 0;
  for (const Vec3& p : pairs.from) size = std::max(size, (p.cast<double>() - middle).norm());
  if (!(size > 0)) return {};
  Eigen::Matrix<double, 6, 6> sum = Eigen::Matrix<double, 6, 6>::Zero();
  Vector6 goal = Vector6::Zero();
  for (size_t i = 0; i < pairs.from.size(); ++i) {
    const Eigen::Vector3d p = (pairs.from[i].cast<double>() - middle) / size,
                          n = pairs.normals[i].cast<double>();
    Vector6 row;
    row << p.cross(n), n;
    sum += row * row.transpose();
    goal += row * (n.dot((pairs.to[i] - pairs.from[i]).cast<double>()) / size);
  }
  sum.diagonal().array() += 1e-3 * sum.trace() / 6;
  const Vector6 way = sum.ldlt().solve(goal);
  const Eigen::Vector3d turn = way.head<3>();
  if (!way.allFinite()) return {};
  Similarity out;
  if (turn.norm() > 0)
    out.turn = Eigen::AngleAxisd(turn.norm(), turn.normalized()).toRotationMatrix().cast<float>();
  out.shift = (middle + size * way.tail<3>()).cast<float>() - out.turn * middle.cast<float>();
  return out;
}

}  // namespace

RigidFit fitOnto(const FitPoints& points, const Rays& onto, const Similarity& start,
                 const FitSetting& setting) {
  RigidFit best{start, std::numeric_limits<float>::max(), 0};
  Similarity motion = start;
  int sinceBest = 0;
  for (int round = 0; round <= setting.rounds && sinceBest < 4; ++round) {
    const Pairs pairs = pairsOf(points, onto, motion, setting);
    if (pairs.from.size() < 3) break;
    ++sinceBest;
    if (pairs.mean < 0.999f * best.rest) {
      best = {motion, pairs.mean, pairs.found};
      sinceBest = 0;
    }
    motion = towardPlanes(pairs).after(motion);
  }
  if (best.found == 0) best.rest = 0;
  return best;
}

}  // namespace juvenor
