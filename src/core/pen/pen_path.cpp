#include "core/pen/pen_path.h"

#include <algorithm>
#include <cmath>

namespace juvenor {
namespace {

constexpr float kStandsStill = 0.3f;  // pixels

}  // namespace

Vec2 pulled(const Vec2& end, const Vec2& pen, float length) {
  const Vec2 way = pen - end;
  const float far = way.norm();
  return far > length && far > 0 ? Vec2(pen - way * (length / far)) : end;
}

PenPath::PenPath(const Eye& eye, const Brush& brush) : eye_(eye), brush_(brush) {}

void PenPath::move(const PenPoint& point, Stroke& stroke) {
  if (!down_) {
    down_ = true;
    raw_ = steadied_ = point;
    touch(point, stroke);
    return;
  }
  const double dt = std::max(0.0, point.seconds - raw_.seconds);
  raw_ = point;
  PenPoint to = point;
  to.pixel = brush_.steady > 0 ? pulled(steadied_.pixel, point.pixel, brush_.steady) : point.pixel;
  if ((to.pixel - steadied_.pixel).norm() < kStandsStill) stroke.rest(dt);
  follow(to, stroke);
}

void PenPath::finish(Stroke& stroke) {
  if (down_ && brush_.steady > 0) follow(raw_, stroke);
  // a tap of a brush that turns along the stroke told no direction: it is laid without
  stroke.end();
}

void PenPath::follow(const PenPoint& to, Stroke& stroke) {
  const PenPoint from = steadied_;
  const float scale = last_ ? eye_.pixelsPerUnit(*last_) : 1.f;
  const float step = std::clamp(0.25f * brush_.step * brush_.radius * scale, 1.f, 8.f);
  // a leap over many pictures, as only a recording can hold, is followed in as many steps as a long stroke
  const float length = std::min((to.pixel - from.pixel).stableNorm(), 65536.f);
  const int count = std::max(1, static_cast<int>(std::ceil(length / step)));
  for (int i = 1; i <= count; ++i) {
    const float t = static_cast<float>(i) / static_cast<float>(count);
    PenPoint at = to;
    at.pixel = from.pixel + t * (to.pixel - from.pixel);
    at.pressure = from.pressure + t * (to.pressure - from.pressure);
    touch(at, stroke);
  }
  steadied_ = to;
}

void PenPath::touch(const PenPoint& point, Stroke& stroke) {
  const auto place = eye_.placeAt(point.pixel);
  if (!place) {
    stroke.lift();
    last_.reset();
    return;
  }
  StrokePoint at;
  at.at = *place;
  at.pressure = point.pressure;
  // tilt is told to the right and toward the hand
  at.lean = eye_.along(at.at, point.tilt);
  // a leap of more than the brush and many pixels at once is another piece of skin
  const float leap = brush_.radius + 24 / eye_.pixelsPerUnit(at.at);
  if (last_ && (at.at.position - last_->position).norm() > leap) stroke.lift();
  last_ = at.at;
  stroke.moveTo(at);
}

}  // namespace juvenor
