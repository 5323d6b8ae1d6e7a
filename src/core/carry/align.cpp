#include "core/carry/align.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace juvenor {
namespace {

constexpr size_t kLooks = 4000, kFewLooks = 300;
// Of the old sculpt's size: what lies this near lies there already; what is sought for at all; what is left
// when it is another shape.
constexpr float kLies = 0.02f, kSeeks = 0.3f, kNear = 0.05f, kOther = 0.02f;

struct Turned {
  Placement placement;
  Eigen::Matrix3f turn;
};

// The 24 ways a sculpt can stand.
std::vector<Turned> quarterTurns() {
  constexpr Axis kAxes[] = {Axis::PlusX, Axis::MinusX, Axis::PlusY, Axis::MinusY, Axis::PlusZ, Axis::MinusZ};
  std::vector<Turned> out;
  for (const Axis up : kAxes)
    for (const Axis front : kAxes)
      if (const Placement p{up, front, 1}; checked(p)) out.push_back({p, turnOf(p)});
  return out;
}

FitPoints placedPoints(const Surface& surface, size_t count, const Eigen::Matrix3f& turn) {
  FitPoints out = fitPointsOf(surface, count);
  for (Vec3& p : out.positions) p = turn * p;
  for (Vec3& n : out.normals) n = turn * n;
  return out;
}

float scoreOf(const RigidFit& fit, float size) {
  return fit.rest / size + 0.5f * (1 - fit.found);
}

// The best of all units and quarter turns, on the sculpt's own axes.
RigidFit sought(const Surface& fresh, const Rays& old, float size, const Progress& progress, bool& stopped) {
  const FitPoints few = placedPoints(fresh, kFewLooks, Eigen::Matrix3f::Identity());
  std::vector<float> scales{unitNear(size / fresh.bounds.diagonal())};
  if (scales.front() != 1 && size / fresh.bounds.diagonal() > 0.3f && size / fresh.bounds.diagonal() < 3)
    scales.push_back(1);
  RigidFit best{{}, size, 0};
  const auto turns = quarterTurns();
  float done = 0;
  for (const float scale : scales)
    for (const Turned& way : turns) {
      Similarity start{scale, way.turn, Vec3::Zero()};
      start.shift = old.surface().bounds.center() - start(fresh.bounds.center());
      const RigidFit fit = fitOnto(few, old, start, {kSeeks * size, {}, 8});
      if (fit.found > 0 && scoreOf(fit, size) < scoreOf(best, size)) best = fit;
      stopped = !report(progress, 0.7f * ++done / static_cast<float>(scales.size() * turns.size()));
      if (stopped) return best;
    }
  return fitOnto(placedPoints(fresh, kLooks, Eigen::Matrix3f::Identity()), old, best.motion, {kSeeks * size});
}

}  // namespace

float unitNear(float scale) {
  constexpr float kUnits[] = {1, 10, 100, 1000, 25.4f, 2.54f, 0.1f, 0.01f, 0.001f, 1 / 25.4f, 1 / 2.54f};
  return *std::ranges::min_element(kUnits, {}, [&](float u) { return std::abs(std::log(scale / u)); });
}

Placement placementNear(const Eigen::Matrix3f& turn) {
  const auto turns = quarterTurns();
  return std::ranges::max_element(turns, {},
                                  [&](const Turned& way) { return (way.turn.transpose() * turn).trace(); })
      ->placement;
}

Result<Aligned> aligned(const Document& old, const Rays& oldRays, std::shared_ptr<const Surface> fresh,
                        const Progress& progress) {
  const float size = old.surface->bounds.diagonal();
  if (!(size > 0) || !(fresh->bounds.diagonal() > 0))
    return Error{"a sculpt without any size cannot be fitted"};
  Aligned out;
  out.placement = old.placement;
  const Eigen::Matrix3f stands = turnOf(old.placement);
  const RigidFit here = fitOnto(placedPoints(*fresh, kLooks, stands), oldRays, {}, {kLies * size, {}, 0});
  const auto lies = [&](const RigidFit& fit) {
    out.rest = fit.rest;
    out.found = fit.found;
    return out.lay = fit.found > 0.7f;
  };
  if (lies(here)) return out;
  // a head that got a body: not all of the new lies on the old, but all of the old on the new
  const auto rays = buildRays(placed(fresh, old.placement), Rays::Quality::Quick, progress);
  if (!rays) return rays.error();
  if (lies(fitOnto(placedPoints(*old.surface, kLooks, Eigen::Matrix3f::Identity()), **rays, {},
                   {kLies * size, {}, 0})))
    return out;
  bool stopped = false;
  RigidFit fit = sought(*fresh, oldRays, size, progress, stopped);
  if (stopped) return cancelledError();
  const FitPoints all = placedPoints(*fresh, kLooks, Eigen::Matrix3f::Identity());
  fit.found = fitOnto(all, oldRays, fit.motion, {kNear * size, {}, 0}).found;
  if (fit.found < 0.5f || fit.rest > kOther * size)
    return Error{fmt::format(
        "does not lie on the sculpt before, however it is turned: {:.0f} % of it is found, {:.3g} "
        "scene units away in the middle; pins can say what belongs together",
        100 * fit.found, fit.rest)};
  // quarter turns are how it stands; what is left is a motion
  out.placement = placementNear(fit.motion.turn);
  out.motion = {fit.motion.scale, fit.motion.turn * turnOf(out.placement).transpose(), fit.motion.shift};
  out.placement.millimetres = old.placement.millimetres * fit.motion.scale;
  out.rest = fit.rest;
  out.found = fit.found;
  return out;
}

}  // namespace juvenor
