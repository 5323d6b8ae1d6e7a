#include "core/brush/footprint.h"

#include <algorithm>
#include <cmath>

#include "core/surface/build/search.h"

namespace juvenor {
namespace {

// A path along edges is up to a third longer than the straight one; more than that is a way around something.
constexpr float kLongestDetour = 1.6f;

}  // namespace

float facing(const Vec3& normal, const Vec3& toViewer) {
  const float c = std::clamp(normal.dot(toViewer) / 0.25f, 0.f, 1.f);
  return c * c * (3 - 2 * c);
}

void Footprint::clear() {
  samples.clear();
  weights.clear();
  colors.clear();
  relief.clear();
  gloss.clear();
}

bool Flood::take(const Surface& surface, const Dab& dab, uint32_t sample, uint32_t part, float path,
                 Footprint& out) {
  if (visit_[sample] == round_ || surface.parts[sample] != part) return false;
  const float distance = (surface.positions[sample] - dab.at.position).norm();
  if (distance >= dab.radius || path > kLongestDetour * dab.radius + surface.spacing) return false;
  float weight = falloff(distance / dab.radius, dab.hardness);
  if (dab.frontOnly) {
    const float front = facing(surface.normals[sample], dab.at.toViewer);
    if (front <= 0) return false;
    weight *= front;
  }
  visit_[sample] = round_;
  path_[sample] = path;
  found_.push_back(sample);
  if (weight > 0) {
    out.samples.push_back(sample);
    out.weights.push_back(weight);
  }
  return true;
}

void Flood::spread(const Surface& surface, const Dab& dab, uint32_t part, Footprint& out) {
  for (; cursor_ < found_.size(); ++cursor_) {
    const uint32_t s = found_[cursor_];
    for (const uint32_t n : surface.neighborsOf(s))
      if (visit_[n] != round_)
        take(surface, dab, n, part, path_[s] + (surface.positions[n] - surface.positions[s]).norm(), out);
  }
}

void Flood::from(const Surface& surface, const Dab& dab, uint32_t seed, uint32_t part, Footprint& out) {
  take(surface, dab, seed, part, (surface.positions[seed] - dab.at.position).norm(), out);
}

void Flood::prepare(const Surface& surface) {
  if (visit_.size() != surface.size() || round_ == kNone) {
    visit_.assign(surface.size(), 0);
    path_.assign(surface.size(), 0.f);
    round_ = 0;
  }
}

void Flood::find(const Surface& surface, const Dab& dab, Footprint& out) {
  out.clear();
  prepare(surface);
  ++round_;
  found_.clear();
  cursor_ = 0;
  if (!(dab.radius > 0)) return;
  if (dab.at.triangle != kNone)
    for (const uint32_t s : surface.triangles[dab.at.triangle]) from(surface, dab, s, dab.at.part, out);
  else if (const auto s = nearestSample(surface, dab.at.position, dab.radius, dab.at.part))
    from(surface, dab, *s, dab.at.part, out);
  spread(surface, dab, dab.at.part, out);
  if (!dab.allParts) return;
  for (uint32_t part = 0; part < surface.partCount; ++part) {
    if (part == dab.at.part) continue;
    if (const auto s = nearestSample(surface, dab.at.position, dab.radius, part)) {
      from(surface, dab, *s, part, out);
      spread(surface, dab, part, out);
    }
  }
}

std::optional<Dab> mirrored(const Surface& surface, const Dab& dab, int axis, float tolerance) {
  Dab out = dab;
  out.across[static_cast<size_t>(axis)] = true;
  out.flipped = !dab.flipped;
  Mirrors::Across through{};
  through[static_cast<size_t>(axis)] = true;
  out.at.position = dab.mirrors.place(dab.at.position, through);
  for (Vec3* v : {&out.at.normal, &out.at.toViewer, &out.along})
    *v = dab.mirrors.direction(*v, through, dab.at.position);
  // The pen is rarely on a vertex: the far side counts as there when a sample lies about as near as here.
  float reach = tolerance;
  if (dab.at.triangle != kNone)
    for (const uint32_t s : surface.triangles[dab.at.triangle])
      reach = std::max(reach, (surface.positions[s] - dab.at.position).norm() + tolerance);
  const auto seed = nearestSample(surface, out.at.position, reach);
  if (!seed) return std::nullopt;
  out.at.part = surface.parts[*seed];
  out.at.triangle = kNone;
  return out;
}

}  // namespace juvenor
