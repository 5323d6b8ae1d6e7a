#include "core/view/camera.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace juvenor {
namespace {

constexpr float kPi = std::numbers::pi_v<float>;

// Half the height of the picture at distance one.
float halfHeight(const Camera& c) {
  return std::tan(c.fieldOfView * kPi / 360);
}

}  // namespace

Lens::Lens(const Camera& c, const ViewSize& size)
    : parallel_(c.parallel),
      distance_(c.distance),
      cutAway_(c.cutAway),
      unit_(2 * halfHeight(c) / static_cast<float>(size.height)),
      middle_(0.5f * static_cast<float>(size.width), 0.5f * static_cast<float>(size.height)),
      target_(c.target),
      right_(c.right()),
      up_(c.up()),
      back_(c.back()),
      eye_(c.eye()) {}

float Lens::pixelsPerUnit(const Vec3& point) const {
  const float depth = parallel_ ? distance_ : std::max(1e-20f, -(point - eye_).dot(back_));
  return 1 / (unit_ * depth);
}

Vec3 Lens::toViewer(const Vec3& point) const {
  return parallel_ ? back_ : normalizedOr(eye_ - point, back_);
}

std::optional<CutPlane> cutAwayBy(const Camera& c) {
  if (!c.cuts()) return std::nullopt;
  return CutPlane{c.back(), c.target.dot(c.back()) + c.cutAway};
}

DepthRange depthRange(const Camera& c, const Box& box) {
  const Vec3 back = c.back(), half = 0.5f * (box.high - box.low);
  const float at = (box.center() - c.target).dot(back), reach = half.dot(back.cwiseAbs());
  return {at + reach, at - reach};
}

Ray rayThrough(const Camera& c, const ViewSize& size, const Vec2& pixel) {
  return Lens(c, size).rayThrough(pixel);
}

Vec3 project(const Camera& c, const ViewSize& size, const Vec3& point) {
  return Lens(c, size).project(point);
}

Eigen::Matrix<float, 3, 4> projection(const Camera& c, const ViewSize& size) {
  const float unit = 2 * halfHeight(c) / static_cast<float>(size.height);
  const Vec2 middle(0.5f * static_cast<float>(size.width), 0.5f * static_cast<float>(size.height));
  const Vec3 right = c.right() / unit, up = c.up() / unit, back = c.back(), eye = c.eye();
  // how far along the view, or the distance at which parallel views are as large
  const Vec3 deeper = c.parallel ? Vec3(Vec3::Zero()) : Vec3(-back);
  const float depth = c.parallel ? c.distance : eye.dot(back);
  Eigen::Matrix<float, 3, 4> out;
  for (int i = 0; i < 3; ++i) {
    out(0, i) = right[i] + middle.x() * deeper[i];
    out(1, i) = middle.y() * deeper[i] - up[i];
    out(2, i) = deeper[i];
  }
  out(0, 3) = middle.x() * depth - right.dot(eye);
  out(1, 3) = middle.y() * depth + up.dot(eye);
  out(2, 3) = depth;
  return out;
}

float pixelsPerUnit(const Camera& c, const ViewSize& size, const Vec3& point) {
  return Lens(c, size).pixelsPerUnit(point);
}

Vec3 toViewer(const Camera& c, const Vec3& point) {
  return Lens(c).toViewer(point);
}

Camera framed(const Camera& camera, const ViewSize& size, std::span<const Vec3> points) {
  Camera out = camera;
  Box box;
  for (const Vec3& p : points) box.add(p);
  if (box.empty()) return out;
  out.target = box.center();
  const float aspect = static_cast<float>(size.width) / static_cast<float>(std::max(1, size.height));
  const Vec3 right = camera.right() / aspect, up = camera.up(), back = camera.back();
  const float scale = 1.06f / halfHeight(camera);
  float distance = 1e-6f;
  for (const Vec3& p : points) {
    const Vec3 d = p - out.target;
    const float need = scale * std::max(std::abs(d.dot(up)), std::abs(d.dot(right)));
    distance = std::max(distance, camera.parallel ? need : need + d.dot(back));
  }
  out.distance = distance;
  out.cutAway += (camera.target - out.target).dot(back);
  return out;
}

Camera framed(const Camera& camera, const ViewSize& size, const Box& box) {
  std::array<Vec3, 8> corners;
  for (size_t i = 0; i < 8; ++i)
    corners[i] = {(i & 1 ? box.high : box.low).x(), (i & 2 ? box.high : box.low).y(),
                  (i & 4 ? box.high : box.low).z()};
  return box.empty() ? camera : framed(camera, size, corners);
}

Camera lookingFrom(const Camera& camera, Side side) {
  Camera out = camera;
  const auto around = [](float degrees, const Vec3& axis) {
    return Eigen::Quaternionf(Eigen::AngleAxisf(degrees * kPi / 180, axis));
  };
  switch (side) {
    case Side::Front:
      out.turn = Eigen::Quaternionf::Identity();
      break;
    case Side::Right:
      out.turn = around(90, Vec3::UnitY());
      break;
    case Side::Left:
      out.turn = around(-90, Vec3::UnitY());
      break;
    case Side::Back:
      out.turn = around(180, Vec3::UnitY());
      break;
    case Side::Top:
      out.turn = around(-90, Vec3::UnitX());
      break;
  }
  return out;
}

Camera turned(const Camera& camera, const Vec2& drag) {
  Camera out = camera;
  const float perPixel = kDegreesPerPixel * kPi / 180;
  const Eigen::Quaternionf spin(Eigen::AngleAxisf(-drag.x() * perPixel, Vec3::UnitY()));
  const Eigen::Quaternionf tilt(Eigen::AngleAxisf(-drag.y() * perPixel, Vec3::UnitX()));
  const Eigen::Quaternionf next = (spin * camera.turn * tilt).normalized();
  // straight over the top the picture would flip
  out.turn = (next * Vec3::UnitY()).y() >= 0 ? next : (spin * camera.turn).normalized();
  return out;
}

Camera panned(const Camera& camera, const ViewSize& size, const Vec2& drag) {
  Camera out = camera;
  const float unit = 1 / pixelsPerUnit(camera, size, camera.target);
  out.target += unit * (-drag.x() * camera.right() + drag.y() * camera.up());
  return out;
}

Camera zoomed(const Camera& camera, const ViewSize& size, float factor, const Vec2& pixel) {
  Camera out = camera;
  const float unit = 1 / pixelsPerUnit(camera, size, camera.target);
  const Vec2 offset = pixel - 0.5f * Vec2(static_cast<float>(size.width), static_cast<float>(size.height));
  const Vec3 under = camera.target + unit * (offset.x() * camera.right() - offset.y() * camera.up());
  out.distance = camera.distance * factor;
  out.target = under + (camera.target - under) * factor;
  return out;
}

}  // namespace juvenor
