#include "core/surface/build/placement.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/parallel.h"

namespace juvenor {
namespace {

constexpr std::array<std::string_view, 6> kAxes{"x", "-x", "y", "-y", "z", "-z"};

Box turnedBox(const Box& box, const Eigen::Matrix3f& turn) {
  Box out;
  if (box.empty()) return out;
  out.add(turn * box.low);
  out.add(turn * box.high);
  return out;
}

std::shared_ptr<const Surface> turned(const std::shared_ptr<const Surface>& surface,
                                      const Eigen::Matrix3f& turn) {
  if (turn.isIdentity(0)) return surface;
  auto out = std::make_shared<Surface>(*surface);
  // rays read a little beyond the last position
  out->positions.reserve(out->size() + 2);
  parallel(out->size(), [&](size_t s) {
    out->positions[s] = turn * surface->positions[s];
    out->normals[s] = turn * surface->normals[s];
  });
  for (Box& box : out->blocks) box = turnedBox(box, turn);
  for (Box& box : out->groups) box = turnedBox(box, turn);
  out->bounds = turnedBox(surface->bounds, turn);
  out->turn = turn * surface->turn;
  return out;
}

}  // namespace

std::string_view axisKey(Axis axis) {
  return kAxes[static_cast<size_t>(axis)];
}

std::optional<Axis> axisFromKey(std::string_view key) {
  const auto found = std::ranges::find(kAxes, key.starts_with('+') ? key.substr(1) : key);
  if (found == kAxes.end()) return std::nullopt;
  return static_cast<Axis>(found - kAxes.begin());
}

Vec3 directionOf(Axis axis) {
  const int k = static_cast<int>(axis);
  Vec3 out = Vec3::Zero();
  out[k / 2] = k % 2 ? -1.f : 1.f;
  return out;
}

Outcome checked(const Placement& p) {
  if (static_cast<int>(p.up) / 2 == static_cast<int>(p.front) / 2)
    return Error{fmt::format("up ({}) and front ({}) lie along one axis", axisKey(p.up), axisKey(p.front))};
  if (!(p.millimetres > 0) || !std::isfinite(p.millimetres)) return Error{"a unit must have a length"};
  return Done{};
}

Eigen::Matrix3f turnOf(const Placement& p) {
  const Vec3 up = directionOf(p.up), front = directionOf(p.front);
  Eigen::Matrix3f out;
  out.row(0) = up.cross(front);
  out.row(1) = up;
  out.row(2) = front;
  return out;
}

std::shared_ptr<const Surface> placed(std::shared_ptr<const Surface> surface, const Placement& placement) {
  return turned(surface, turnOf(placement));
}

std::shared_ptr<const Surface> unplaced(std::shared_ptr<const Surface> surface, const Placement& placement) {
  return turned(surface, turnOf(placement).transpose());
}

std::optional<float> millimetresOf(std::string_view unit) {
  if (unit == "mm") return 1.f;
  if (unit == "cm") return 10.f;
  if (unit == "m") return 1000.f;
  if (unit == "inch") return 25.4f;
  return std::nullopt;
}

PlacementGuess guessedPlacement(const Sculpt& sculpt, std::string_view ending) {
  PlacementGuess out;
  Box box;
  for (const Vec3& v : sculpt.vertices) box.add(v);
  const Vec3 size = box.empty() ? Vec3(Vec3::Zero()) : Vec3(box.high - box.low);
  if (ending == "glb" || ending == "gltf") {
    out.placement.millimetres = 1000;
    out.standsCertainly = out.unitCertain = true;
    return out;
  }
  // a bust or a figure is higher than it is deep
  const bool lies = size.z() > 1.5f * size.y();
  if (lies) out.placement = {Axis::PlusZ, Axis::MinusY, 1};
  out.standsCertainly = size.y() > 1.15f * size.z();
  // a head is some 25 cm high, a figure some 180 cm (common practice)
  const float tall = size.maxCoeff();
  if (ending == "stl" || (tall >= 120 && tall < 4000)) {
    out.placement.millimetres = 1;
    out.unitCertain = true;
  } else if (tall < 4) {
    out.placement.millimetres = 1000;
    out.unitCertain = tall > 0.15f;
  } else {
    out.placement.millimetres = tall < 120 ? 10 : 1;
  }
  return out;
}

}  // namespace juvenor
