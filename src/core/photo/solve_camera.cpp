#include "core/photo/solve_camera.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <vector>

#include "core/parallel.h"
#include "core/photo/normal_equations.h"

namespace juvenor {
namespace {

using Vec3d = Eigen::Vector3d;
using Seven = Eigen::Matrix<double, 7, 1>;
using Seven7 = Eigen::Matrix<double, 7, 7>;

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
    Eigen::Matrix3d normal = Eigen::Matrix3d::Zero();
    Vec3d right = Vec3d::Zero();
    for (const Pin& pin : pins_) {
      const Vec3d p = pose.turn * pin.place;
      for (int k = 0; k < 2; ++k) {
        Vec3d row(0, 0, pin.seen[k]);
        row[k] = focal;
        addRow<3>(row, -focal * p[k] - pin.seen[k] * p.z(), 1, normal, right);
      }
    }
    pose.shift = solvedNormal<3>(normal, right);
    return pose.shift.allFinite() && missing(pose) < 1e29;
  }

  Pose improved(Pose pose, int rounds) const {
    double damping = 1e-3, now = missing(pose);
    for (int round = 0; round < rounds && damping < 1e12; ++round) {
      Seven7 normal = Seven7::Zero();
      Seven right = Seven::Zero();
      accumulate(pose, normal, right);
      const Pose before = pose;
      const double last = now;
      do {
        Seven7 damped = normal;
        for (int k = 0; k < 7; ++k) damped(k, k) += damping * (normal(k, k) + 1e-9);
        const Pose next = moved(before, solvedNormal<7>(damped, right));
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
  static Pose moved(const Pose& from, const Seven& by) {
    Pose out = from;
    const Vec3d turn = by.head<3>();
    if (turn.norm() > 0)
      out.turn = Eigen::AngleAxisd(turn.norm(), turn.normalized()).toRotationMatrix() * from.turn;
    out.shift += by.segment<3>(3);
    out.logFocal = std::clamp(out.logFocal + by[6], std::log(0.2), std::log(500.0));
    return out;
  }

  // The normal equations of one step from a pose: by a small turn, a shift, and the focal length's logarithm.
  void accumulate(const Pose& pose, Seven7& normal, Seven& right) const {
    const double focal = std::exp(pose.logFocal), each = 1 / static_cast<double>(pins_.size());
    for (const Pin& pin : pins_) {
      const Vec3d turned = pose.turn * pin.place, p = turned + pose.shift;
      const double depth = -p.z();
      for (int k = 0; k < 2; ++k) {
        const double seen = focal / depth * p[k];
        Vec3d byPlace(0, 0, seen / depth);
        byPlace[k] = focal / depth;
        const Vec3d byTurn = turned.cross(byPlace);
        Seven row;
        row << byTurn, byPlace, focalKnown_ ? 0.0 : seen;
        addRow<7>(row, pin.seen[k] - seen, each, normal, right);
      }
    }
    if (focalKnown_) return;
    normal(6, 6) += kPullToUsual * kPullToUsual;
    right[6] -= kPullToUsual * kPullToUsual * (pose.logFocal - std::log(kUsualFocal));
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
    const Eigen::Quaterniond look = turnBetween<double>(back, Vec3d::UnitZ());
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
  const double size = std::sqrt(std::max(0.0, spread.trace()));
  // the products of two half axes' squares each: none of any size where all lie on a line
  const double areas = 0.5 * (spread.trace() * spread.trace() - (spread * spread).trace());
  if (!spread.allFinite() || !(size > 0) || !(areas > 1e-6 * std::pow(size, 4)))
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
