#include "core/pen/pen_path.h"

#include <algorithm>
#include <cmath>

namespace juvenor {

PenPath::PenPath(const Rays& rays, const Camera& camera, const ViewSize& size,
                 const std::set<uint32_t>& hidden, const Brush& brush)
    : rays_(rays), camera_(camera), size_(size), hidden_(hidden), brush_(brush) {}

void PenPath::move(const PenPoint& point, Stroke& stroke) {
  if (!down_) {
    down_ = true;
    raw_ = steadied_ = point;
    touch(point.pixel, point.pressure, stroke);
    return;
  }
  const double dt = std::max(0.0, point.seconds - raw_.seconds);
  raw_ = point;
  const float gain = brush_.steady > 0 ? static_cast<float>(1 - std::exp(-dt / brush_.steady)) : 1.f;
  const Vec2 to = steadied_.pixel + gain * (point.pixel - steadied_.pixel);
  follow(to, point.pressure, stroke);
}

void PenPath::finish(Stroke& stroke) {
  if (down_ && brush_.steady > 0) follow(raw_.pixel, raw_.pressure, stroke);
}

void PenPath::follow(const Vec2& to, float pressure, Stroke& stroke) {
  const Vec2 from = steadied_.pixel;
  const float fromPressure = steadied_.pressure;
  const float scale = last_ ? pixelsPerUnit(camera_, size_, last_->position) : 1.f;
  const float step = std::clamp(0.25f * brush_.step * brush_.radius * scale, 1.f, 8.f);
  // a leap over many pictures, as only a recording can hold, is followed in as many steps as a long stroke
  const float length = std::min((to - from).stableNorm(), 65536.f);
  const int count = std::max(1, static_cast<int>(std::ceil(length / step)));
  for (int i = 1; i <= count; ++i) {
    const float t = static_cast<float>(i) / static_cast<float>(count);
    touch(from + t * (to - from), fromPressure + t * (pressure - fromPressure), stroke);
  }
  steadied_.pixel = to;
  steadied_.pressure = pressure;
}

void PenPath::touch(const Vec2& pixel, float pressure, Stroke& stroke) {
  const Ray ray = rayThrough(camera_, size_, pixel);
  const auto hit = rays_.first(ray, hidden_);
  if (!hit) {
    stroke.lift();
    last_.reset();
    return;
  }
  const SurfacePoint point = rays_.pointOf(*hit, -ray.direction);
  // a leap of more than the brush and many pixels at once is another piece of skin
  const float leap = brush_.radius + 24 / pixelsPerUnit(camera_, size_, point.position);
  if (last_ && (point.position - last_->position).norm() > leap) stroke.lift();
  last_ = point;
  stroke.moveTo(point, pressure);
}

}  // namespace juvenor
