#include "app/hands/straight_line.h"

#include <cmath>

#include "app/hands/easel_hand.h"

namespace juvenor::app {
namespace {

constexpr float kNear = 10;            // pixels from the middle within which an end lies on it
constexpr float kStep = 6;             // pixels between two points of the way
constexpr float kPixelsASecond = 600;  // a spray lays as much as a hand that goes so fast

}  // namespace

StraightLine::End StraightLine::endAt(const Viewing& viewing, const Brush& brush, const Mirrors& mirrors,
                                      const Vec2& pixel, const std::optional<Vec3>& place) {
  End out{pixel, std::nullopt};
  float nearest = kNear;
  for (int axis = 0; place && axis < 3; ++axis) {
    if (!brush.mirror[static_cast<size_t>(axis)]) continue;
    const Vec2 there = pixelOf(viewing, mirrors.onPlane(*place, static_cast<size_t>(axis)));
    if ((there - pixel).norm() >= nearest) continue;
    nearest = (there - pixel).norm();
    out = {there, axis};
  }
  return out;
}

std::vector<PenPoint> StraightLine::way(const Viewing& viewing, const Rays& rays,
                                        const std::set<uint32_t>& hidden, const Brush& brush,
                                        const Mirrors& mirrors, const End& to, float pressure) const {
  if (surface_.expired()) return {};
  const Vec2 start = pixelOf(viewing, from_);
  const End from = endAt(viewing, brush, mirrors, start, from_);
  const bool along = to.axis && from.axis == to.axis;
  const float length = (to.pixel - from.pixel).norm();
  const int steps = std::max(1, static_cast<int>(std::ceil(length / kStep)));
  std::vector<PenPoint> out;
  for (int i = 0; i <= steps; ++i) {
    const float t = static_cast<float>(i) / static_cast<float>(steps);
    Vec2 pixel = from.pixel + t * (to.pixel - from.pixel);
    if (along)
      if (const auto hit = rays.first(rayThrough(viewing.camera, viewing.size, pixel), hidden))
        pixel = pixelOf(viewing, mirrors.onPlane(rays.pointOf(*hit, viewing.camera.back()).position,
                                                 static_cast<size_t>(*to.axis)));
    out.push_back({pixel, pressure, {0, 0}, static_cast<double>(t * length / kPixelsASecond)});
  }
  return out;
}

void StraightLine::draw(QPainter& painter, const Viewing& viewing, const End& to, double scale) const {
  const QPointF end = QPointF(to.pixel.x(), to.pixel.y()) / scale;
  if (!surface_.expired()) {
    const Vec2 from = pixelOf(viewing, from_);
    drawOutline(painter, {QPointF(from.x(), from.y()) / scale, end});
  }
  if (!to.axis) return;
  // it lies on the middle
  constexpr double kMark = 5;
  drawOutline(painter, {end + QPointF(0, -kMark), end + QPointF(kMark, 0), end + QPointF(0, kMark),
                        end + QPointF(-kMark, 0), end + QPointF(0, -kMark)});
}

}  // namespace juvenor::app
