#include "core/photo/solve_camera.h"

#include <Eigen/Cholesky>
#include <Eigen/Eigenvalues>
#include <Eigen/QR>
#include <algorithm>
#include <cmath>
#include <numbers>
#include <vector>

#include "core/parallel.h"

namespace juvenor {
namespace {

using Vec3d = Eigen::Vector3d;

constexpr double kUsualFocal = 4;      // of a portrait: half the long side seen under 14 degrees
constexpr double kPullToUsual = 1e-5;  // of the focal length's logarithm: hardly felt where pins tell it
constexpr int kDirections = 42, kRolls = 4, kFirstRounds = 12, kLastRounds = 200, kBest = 8;
constexpr double kFocalStarts[] = {1.5, 4, 12};
constexpr double kNearest = 1e-3;  // before the lens, in sizes of what is pinned

// A camera that looks down −z: p = turn · x + shift, seen at focal · (px, py) / −pz.
struct Pose {
  Eigen::Matrix3d turn = Eigen::Matrix3d::Identity();
  Vec3d shift = Vec3d::Zero();
  double logFocal = 0;
};

struct Pin {
  Eigen::Vector2d seen;
  Vec3d place;  // around their mean, in sizes of them all
};

class Fit {
 public:
  Fit(std::vector<Pin> pins, bool focalKnown) : pins_(std::move(pins)), focalKnown_(focalKnown) {}

  /// Mean squared distance; huge where a pin lies behind the lens.
  double missing(const Pose& pose) const {
    double sum = 0;
    for (const Pin& pin : pins_) {
      const Vec3d p = pose.turn * pin.place + pose.shift;
      if (!(-p.z() > kNearest)) return 1e30;
      sum += (std::exp(pose.logFocal) / -p.z() * p.head<2>() - pin.seen).squaredNorm();
    }
    const double pull = focalKnown_ ? 0 : pose.logFocal - std::log(kUsualFocal);
    return sum / static_cast<double>(pins_.size()) + kPullToUsual * kPullToUsual * pull * pull;
  }

  /// The shift that fits a turn and focal length best: linear in it.
  bool placeLens(Pose& pose) const {
    const double focal = std::exp(pose.logFocal);
    Eigen::MatrixX3d rows(2 * pins_.size(), 3);
    Eigen::VectorXd wanted(rows.rows());
    for (size_t i = 0; i < pins_.size(); ++i) {
      const Vec3d p = pose.turn * pins_[i].place;
      for (int k = 0; k < 2; ++k) {
        const auto row = static_cast<Eigen::Index>(2 * i) + k;
        rows.row(row).setZero();
        rows(row, k) = focal;
        rows(row, 2) = pins_[i].seen[k];
        wanted[row] = -focal * p[k] - pins_[i].seen[k] * p.z();
      }
    }
    pose.shift = rows.colPivHouseholderQr().solve(wanted);
    return pose.shift.allFinite() && missing(pose) < 1e29;
  }

  Pose improved(Pose pose, int rounds) const {
    double damping = 1e-3, now = missing(pose);
    for (int round = 0; round < rounds && damping < 1e12; ++round) {
      Eigen::Matrix<double, 7, 7> normal = Eigen::Matrix<double, 7, 7>::Zero();
      Eigen::Matrix<double, 7, 1> gradient = Eigen::Matrix<double, 7, 1>::Zero();
      accumulate(pose, normal, gradient);
      const Pose before = pose;
      const double last = now;
      do {
        Eigen::Matrix<double, 7, 7> damped = normal;
        damped.diagonal() += damping * (normal.diagonal().array() + 1e-9).matrix();
        const Pose next = moved(before, damped.ldlt().solve(-gradient));
        const double then = missing(next);
        if (then < now) {
          pose = next;
          now = then;
          damping = std::max(1e-12, 0.3 * damping);
          break;
        }
        damping *= 4;
      } while (damping < 1e12);
      if (last - now < 1e-15 * last) break;
    }
    return pose;
  }

 private:
  static Pose moved(const Pose& from, const Eigen::Matrix<double, 7, 1>& by) {
    Pose out = from;
    const Vec3d turn = by.head<3>();
    if (turn.norm() > 0)
      out.turn = Eigen::AngleAxisd(turn.norm(), turn.normalized()).toRotationMatrix() * from.turn;
    out.shift += by.segment<3>(3);
    out.logFocal = std::clamp(out.logFocal + by[6], std::log(0.2), std::log(500.0));
    return out;
  }

  void accumulate(const Pose& pose, Eigen::Matrix<double, 7, 7>& normal,
                  Eigen::Matrix<double, 7, 1>& gradient) const {
    const double focal = std::exp(pose.logFocal), count = static_cast<double>(pins_.size());
    for (const Pin& pin : pins_) {
      const Vec3d turned = pose.turn * pin.place, p = turned + pose.shift;
      const double depth = -p.z();
      const Eigen::Vector2d seen = focal / depth * p.head<2>();
      Eigen::Matrix<double, 2, 3> byPlace;
      byPlace << focal / depth, 0, seen.x() / depth, 0, focal / depth, seen.y() / depth;
      Eigen::Matrix3d spin;  // of turned under a small turn
      spin << 0, turned.z(), -turned.y(), -turned.z(), 0, turned.x(), turned.y(), -turned.x(), 0;
      Eigen::Matrix<double, 2, 7> slope;
      slope << byPlace * spin, byPlace, (focalKnown_ ? Eigen::Vector2d(0, 0) : seen);
      normal += slope.transpose() * slope / count;
      gradient += slope.transpose() * (seen - pin.seen) / count;
    }
    if (focalKnown_) return;
    normal(6, 6) += kPullToUsual * kPullToUsual;
    gradient[6] += kPullToUsual * kPullToUsual * (pose.logFocal - std::log(kUsualFocal));
  }

  std::vector<Pin> pins_;
  bool focalKnown_;
};

// Views from all around, each with a few rolls.
std::vector<Eigen::Matrix3d> turnsAround() {
  std::vector<Eigen::Matrix3d> out;
  for (int i = 0; i < kDirections; ++i) {
    const double y = 1 - (2 * i + 1) / static_cast<double>(kDirections);
    const double angle = i * std::numbers::pi * (3 - std::sqrt(5.0)), r = std::sqrt(1 - y * y);
    const Vec3d back(r * std::cos(angle), y, r * std::sin(angle));
    const Eigen::Quaterniond look = Eigen::Quaterniond::FromTwoVectors(back, Vec3d::UnitZ());
    for (int roll = 0; roll < kRolls; ++roll)
      out.push_back(
          Eigen::AngleAxisd(2 * std::numbers::pi * roll / kRolls, Vec3d::UnitZ()).toRotationMatrix() *
          look.toRotationMatrix());
  }
  return out;
}

struct Start {
  Pose pose;
  double missing = 1e30;
};

Pose bestOf(const Fit& fit, std::optional<double> knownFocal) {
  const std::vector<Eigen::Matrix3d> turns = turnsAround();
  std::vector<double> focals(std::begin(kFocalStarts), std::end(kFocalStarts));
  if (knownFocal) focals = {*knownFocal};
  std::vector<Start> starts(turns.size() * focals.size());
  parallel(
      starts.size(),
      [&](size_t i) {
        Pose pose{turns[i / focals.size()], Vec3d::Zero(), std::log(focals[i % focals.size()])};
        if (!fit.placeLens(pose)) return;
        pose = fit.improved(pose, kFirstRounds);
        starts[i] = {pose, fit.missing(pose)};
      },
      8);
  const size_t best = std::min<size_t>(kBest, starts.size());
  std::ranges::partial_sort(starts, starts.begin() + static_cast<std::ptrdiff_t>(best), {}, &Start::missing);
  starts.resize(best);
  for (Start& s : starts) {
    if (s.missing >= 1e29) continue;
    s.pose = fit.improved(s.pose, kLastRounds);
    s.missing = fit.missing(s.pose);
  }
  return std::ranges::min_element(starts, {}, &Start::missing)->pose;
}

}  // namespace

Result<SolvedCamera> solveCamera(std::span<const CameraPin> pins, float aspect,
                                 std::optional<float> fieldOfView) {
  if (pins.size() < kFewestCameraPins) return Error{"needs four pins or more, spread over the picture"};
  Vec3d mean = Vec3d::Zero();
  for (const CameraPin& p : pins) mean += p.inScene.cast<double>();
  mean /= static_cast<double>(pins.size());
  Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
  for (const CameraPin& p : pins) {
    const Vec3d d = p.inScene.cast<double>() - mean;
    spread += d * d.transpose() / static_cast<double>(pins.size());
  }
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> axes(spread);
  const double size = std::sqrt(std::max(0.0, axes.eigenvalues()[2]));
  if (!spread.allFinite() || !(size > 0) || axes.eigenvalues()[1] < 1e-6 * size * size)
    return Error{"needs pins that do not lie on one line of the skin"};
  std::vector<Pin> local;
  for (const CameraPin& p : pins)
    local.push_back({p.onPicture.cast<double>(), (p.inScene.cast<double>() - mean) / size});
  const double half = static_cast<double>(aspect);
  std::optional<double> focal;
  if (fieldOfView) focal = half / std::tan(static_cast<double>(*fieldOfView) * std::numbers::pi / 360);
  const Fit fit(local, fieldOfView.has_value());
  const Pose pose = bestOf(fit, focal);
  const double missing = std::sqrt(fit.missing(pose));
  if (missing > 1e10) return Error{"found no camera before which all pins lie; look whether two are swapped"};
  SolvedCamera out;
  // what the lens looks at, at the depth of the pins' mean
  const double depth = -pose.shift.z();
  const Vec3d eye = mean - size * (pose.turn.transpose() * pose.shift);
  out.camera.turn = Eigen::Quaterniond(pose.turn.transpose()).normalized().cast<float>();
  out.camera.distance = static_cast<float>(size * depth);
  out.camera.target = (eye - size * depth * pose.turn.row(2).transpose()).cast<float>();
  out.camera.fieldOfView =
      static_cast<float>(2 * std::atan(half / std::exp(pose.logFocal)) * 180 / std::numbers::pi);
  out.missing = static_cast<float>(missing);
  return out;
}

}  // namespace juvenor
