#include "core/brush/stroke.h"

#include <algorithm>

namespace juvenor {

Stroke::Stroke(const Surface& surface, const Brush& brush, uint32_t activePart,
               std::span<const InkAtWork> inks, Flood& flood)
    : surface_(surface), brush_(brush), activePart_(activePart), inks_(inks), flood_(flood) {}

void Stroke::moveTo(const SurfacePoint& point, float pressure) {
  const float smallest = 0.02f * brush_.radius * brush_.step;
  const auto step = [&](float p) { return std::max(smallest, brush_.step * strengthAt(brush_, p).radius); };
  if (!last_) {
    dab(point, pressure);
    last_ = {point, pressure};
    toNext_ = step(pressure);
    return;
  }
  const Trace from = *last_;
  const float length = (point.position - from.point.position).norm();
  float done = 0;
  while (length - done >= toNext_ && toNext_ > 0) {
    done += toNext_;
    const float t = done / length;
    SurfacePoint at = t < 0.5f ? from.point : point;
    at.position = from.point.position + t * (point.position - from.point.position);
    at.normal = normalizedOr((1 - t) * from.point.normal + t * point.normal, point.normal);
    at.toViewer = normalizedOr((1 - t) * from.point.toViewer + t * point.toViewer, point.toViewer);
    const float p = from.pressure + t * (pressure - from.pressure);
    dab(at, p);
    toNext_ = step(p);
  }
  toNext_ -= length - done;
  last_ = {point, pressure};
}

void Stroke::dabOnce(const Dab& dab) {
  if (!dab.allParts && activePart_ != kNone && dab.at.part != activePart_) return;
  flood_.find(surface_, dab, footprint_);
  reached_ += footprint_.samples.size();
  for (const InkAtWork& work : inks_) work.ink->apply(surface_, dab, footprint_, *work.field);
}

void Stroke::dab(const SurfacePoint& point, float pressure) {
  const DabStrength strength = strengthAt(brush_, pressure);
  const float tolerance = brush_.mirrorTolerance > 0 ? brush_.mirrorTolerance : 3 * surface_.spacing;
  std::vector<Dab> dabs{{point, strength.radius, brush_.hardness, strength.opacity, strength.flow,
                         brush_.frontOnly, brush_.allParts}};
  for (int axis = 0; axis < 3; ++axis) {
    if (!brush_.mirror[static_cast<size_t>(axis)]) continue;
    const size_t count = dabs.size();
    for (size_t i = 0; i < count; ++i)
      if (auto other = mirrored(surface_, dabs[i], axis, tolerance)) dabs.push_back(*other);
  }
  ++dabs_;
  for (const Dab& d : dabs) dabOnce(d);
}

}  // namespace juvenor
