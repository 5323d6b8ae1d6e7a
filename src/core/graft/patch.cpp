#include "core/graft/patch.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <unordered_map>

#include "core/surface/search.h"

namespace juvenor {
namespace {

Result<Patch> rectangle(const Surface& surface, const PatchRectangle& shape, float margin) {
  if (!(shape.half.minCoeff() > 0)) return Error{"a graft needs some width and height"};
  ExponentialMap map;
  SkinChart chart;
  const Vec2 half = shape.half + Vec2::Constant(margin);
  map.find(surface, shape.at, shape.along, half.norm(), chart, half);
  if (chart.samples.size() < 4) return Error{"too few points lie there to be taken"};
  return Patch{std::move(chart.samples), std::move(chart.places), shape.half, {}};
}

// The chart around the middle of the loop reaches all of it; the loop's own places are those of the samples
// next to it.
Result<Patch> lasso(const Surface& surface, const PatchLasso& shape, float margin) {
  if (shape.loop.size() < 3) return Error{"a lasso needs three places at least"};
  Vec3 middle = Vec3::Zero();
  for (const SurfacePoint& p : shape.loop) middle += p.position / static_cast<float>(shape.loop.size());
  float reach = 0;
  for (const SurfacePoint& p : shape.loop) reach = std::max(reach, (p.position - middle).norm());
  const uint32_t part = shape.loop.front().part;
  const auto nearest = nearestSample(surface, middle, 2 * reach + surface.spacing, part);
  if (!nearest) return Error{"the lasso encloses no skin"};
  SurfacePoint at;
  at.position = surface.positions[*nearest];
  at.normal = surface.normals[*nearest];
  at.part = part;
  ExponentialMap map;
  SkinChart chart;
  // skin that bends away is longer than the way through the air
  map.find(surface, at, shape.along, 1.6f * reach + margin, chart);
  std::unordered_map<uint32_t, Vec2> placeOf;
  for (size_t i = 0; i < chart.samples.size(); ++i) placeOf[chart.samples[i]] = chart.places[i];
  Patch out{std::move(chart.samples), std::move(chart.places), Vec2::Zero(), {}};
  for (const SurfacePoint& p : shape.loop) {
    const auto sample = nearestSample(surface, p.position, 4 * surface.spacing, part);
    const auto place = sample ? placeOf.find(*sample) : placeOf.end();
    if (place != placeOf.end()) out.outline.push_back(place->second);
  }
  if (out.outline.size() < 3) return Error{"the lasso encloses no skin"};
  Vec2 low = out.outline.front(), high = low;
  for (const Vec2& p : out.outline) {
    low = low.cwiseMin(p);
    high = high.cwiseMax(p);
  }
  const Vec2 center = 0.5f * (low + high);
  for (Vec2& p : out.outline) p -= center;
  for (Vec2& p : out.places) p -= center;
  out.half = 0.5f * (high - low);
  if (!(out.half.minCoeff() > 0)) return Error{"the lasso encloses no skin"};
  return out;
}

struct OnLine {
  float along = 0, across = 0;
};

// Where a place lies beside a line; before its beginning and beyond its end along what is straight there.
OnLine besideLine(std::span<const Vec3> line, std::span<const float> way, const Vec3& place,
                  const Vec3& normal) {
  OnLine out;
  float nearest = std::numeric_limits<float>::infinity();
  for (size_t i = 0; i + 1 < line.size(); ++i) {
    const Vec3 d = line[i + 1] - line[i];
    const float length = way[i + 1] - way[i];
    float t = (place - line[i]).dot(d) / (length * length);
    if (i > 0) t = std::max(t, 0.f);
    if (i + 2 < line.size()) t = std::min(t, 1.f);
    const Vec3 away = place - line[i] - t * d;
    if (away.squaredNorm() >= nearest) continue;
    nearest = away.squaredNorm();
    out.along = way[i] + t * length;
    out.across = std::copysign(away.norm(), away.dot(normal.cross(d)));
  }
  return out;
}

Result<Patch> strip(const Surface& surface, const PatchStrip& shape, float margin) {
  std::vector<Vec3> line;
  std::vector<float> way;
  for (const Vec3& p : shape.line) {
    const float step = line.empty() ? 0 : (p - line.back()).norm();
    if (!line.empty() && step < 0.5f * surface.spacing) continue;
    way.push_back(line.empty() ? 0 : way.back() + step);
    line.push_back(p);
  }
  if (line.size() < 2 || !(shape.half > 0)) return Error{"a strip needs a line of some length, and a width"};
  const float length = way.back();
  Patch out;
  out.half = {0.5f * length, shape.half};
  std::unordered_map<uint32_t, char> seen;
  std::vector<uint32_t> front;
  const auto visit = [&](uint32_t s) {
    if (!seen.emplace(s, 1).second || surface.parts[s] != shape.part) return;
    const OnLine at = besideLine(line, way, surface.positions[s], surface.normals[s]);
    if (std::abs(at.across) > shape.half + margin || at.along < -margin || at.along > length + margin) return;
    out.samples.push_back(s);
    out.places.push_back({at.along - 0.5f * length, at.across});
    front.push_back(s);
  };
  for (const Vec3& p : line)
    if (const auto s = nearestSample(surface, p, 4 * surface.spacing, shape.part)) visit(*s);
  while (!front.empty()) {
    const uint32_t s = front.back();
    front.pop_back();
    for (const uint32_t n : surface.neighborsOf(s)) visit(n);
  }
  if (out.samples.size() < 4) return Error{"too few points lie there to be taken"};
  return out;
}

}  // namespace

Result<Patch> patchOf(const Surface& surface, const PatchShape& shape, float margin) {
  if (const auto* r = std::get_if<PatchRectangle>(&shape)) return rectangle(surface, *r, margin);
  if (const auto* s = std::get_if<PatchStrip>(&shape)) return strip(surface, *s, margin);
  return lasso(surface, std::get<PatchLasso>(shape), margin);
}

}  // namespace juvenor
