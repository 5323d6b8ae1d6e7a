#include "core/graft/patch.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <unordered_map>

#include "core/surface/build/search.h"

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

// A line on the skin, the way up to each of its places, and the skin's normal there.
struct LaidLine {
  std::vector<Vec3> places, normals;
  std::vector<float> way;

  // Where a place lies beside it. What lies deeper, or stands out, is as far across as it looks from above,
  // and a little more: in a crease beneath the line the two sides must not meet.
  OnLine beside(const Vec3& place) const {
    OnLine out;
    float nearest = std::numeric_limits<float>::infinity();
    for (size_t i = 0; i + 1 < places.size(); ++i) {
      const Vec3 d = places[i + 1] - places[i];
      const float length = way[i + 1] - way[i];
      const float t = std::clamp((place - places[i]).dot(d) / (length * length), 0.f, 1.f);
      const Vec3 away = place - places[i] - t * d;
      if (away.squaredNorm() >= nearest) continue;
      nearest = away.squaredNorm();
      const Vec3 normal = (1 - t) * normals[i] + t * normals[i + 1];
      const float side = away.dot(normalizedOr(normal.cross(d), Vec3::Zero()));
      const float depth = std::sqrt(std::max(0.f, nearest - side * side));
      out.along = way[i] + t * length;
      out.across = std::copysign(std::hypot(side, std::min(depth, std::abs(side))), side);
    }
    return out;
  }
};

// Each place and normal the mean of its neighbours', over and over: corners are rounded.
void smooth(std::vector<Vec3>& values, int rounds) {
  for (int round = 0; round < rounds; ++round) {
    const std::vector<Vec3> before = values;
    for (size_t i = 1; i + 1 < values.size(); ++i)
      values[i] = 0.25f * before[i - 1] + 0.5f * before[i] + 0.25f * before[i + 1];
  }
}

// The line laid down on the skin in steps far shorter than the strip is wide: a chord through the air, or a
// sharp bend, would draw streaks.
LaidLine laidDown(const Surface& surface, const PatchStrip& shape) {
  const float step = std::max(surface.spacing, 0.15f * shape.half);
  LaidLine out;
  for (size_t i = 0; i < shape.line.size(); ++i) {
    const Vec3 &from = shape.line[i > 0 ? i - 1 : 0], &to = shape.line[i];
    const int parts = std::max(1, static_cast<int>(std::ceil((to - from).norm() / step)));
    for (int k = i == 0 ? parts : 1; k <= parts; ++k) {
      const Vec3 p = from + (to - from) * (static_cast<float>(k) / static_cast<float>(parts));
      const auto s = nearestSample(surface, p, shape.half + 4 * surface.spacing, shape.part);
      if (!s) continue;
      const Vec3& normal = surface.normals[*s];
      out.places.push_back(p - (p - surface.positions[*s]).dot(normal) * normal);
      out.normals.push_back(normal);
    }
  }
  smooth(out.places, 8);
  smooth(out.normals, 16);
  return out;
}

// Without places next to each other, a little longer at both ends, and its way measured.
LaidLine measured(const LaidLine& line, const PatchStrip& shape, float apart, float beyond) {
  LaidLine out;
  for (size_t i = 0; i < line.places.size(); ++i) {
    const float step = out.places.empty() ? 0 : (line.places[i] - out.places.back()).norm();
    if (!out.places.empty() && step < apart) continue;
    out.way.push_back(out.places.empty() ? 0 : out.way.back() + step);
    out.places.push_back(line.places[i]);
    out.normals.push_back(line.normals[i]);
  }
  if (out.places.size() < 2) return {};
  // along where it came from over about its width
  const auto ahead = [&](bool atEnd) {
    const Vec3 end = atEnd ? out.places.back() : out.places.front();
    size_t i = atEnd ? out.places.size() - 1 : 0;
    while ((out.places[i] - end).norm() < shape.half && (atEnd ? i > 0 : i + 1 < out.places.size()))
      i += atEnd ? size_t(-1) : 1;
    return Vec3(end + beyond * (end - out.places[i]).normalized());
  };
  const Vec3 first = ahead(false), last = ahead(true);
  out.places.insert(out.places.begin(), first);
  out.places.push_back(last);
  out.normals.insert(out.normals.begin(), out.normals.front());
  out.normals.push_back(out.normals.back());
  out.way.insert(out.way.begin(), -beyond);
  out.way.push_back(out.way.back() + beyond);
  return out;
}

Result<Patch> strip(const Surface& surface, const PatchStrip& shape, float margin) {
  const float beyond = margin + 4 * surface.spacing;
  const LaidLine line =
      shape.half > 0 ? measured(laidDown(surface, shape), shape, 0.5f * surface.spacing, beyond) : LaidLine();
  if (line.places.empty()) return Error{"a strip needs a line of some length, and a width"};
  const float length = line.way.back() - beyond;
  Patch out;
  out.half = {0.5f * length, shape.half};
  std::unordered_map<uint32_t, char> seen;
  std::vector<uint32_t> front;
  const auto visit = [&](uint32_t s) {
    if (!seen.emplace(s, 1).second || surface.parts[s] != shape.part) return;
    const OnLine at = line.beside(surface.positions[s]);
    if (std::abs(at.across) > shape.half + margin || at.along < -margin || at.along > length + margin) return;
    out.samples.push_back(s);
    out.places.push_back({at.along - 0.5f * length, at.across});
    front.push_back(s);
  };
  for (const Vec3& p : line.places)
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
