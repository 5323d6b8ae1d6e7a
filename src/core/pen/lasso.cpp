#include "core/pen/lasso.h"

#include <algorithm>
#include <cmath>

#include "core/parallel.h"
#include "core/surface/distance/distance.h"
#include "core/surface/map_field.h"

namespace juvenor {
namespace {

// Which pixels lie inside, row by row: the places at which a row crosses the outline, ascending.
class Rows {
 public:
  static constexpr int kRowsAPixel = 4;
  static constexpr int kMostRows = 1 << 17;

  explicit Rows(std::span<const Vec2> outline) {
    float low = std::numeric_limits<float>::max(), high = std::numeric_limits<float>::lowest();
    for (const Vec2& p : outline) {
      low = std::min(low, p.y());
      high = std::max(high, p.y());
    }
    first_ = std::floor(low);
    rows_.resize(std::min<size_t>(kMostRows, static_cast<size_t>((high - first_) * kRowsAPixel) + 1));
    for (size_t i = 0; i < outline.size(); ++i) cross(outline[i], outline[(i + 1) % outline.size()]);
    for (auto& row : rows_) std::ranges::sort(row);
  }
  bool hold(const Vec2& p) const {
    const float row = std::floor((p.y() - first_) * kRowsAPixel);
    if (!(row >= 0) || row >= static_cast<float>(rows_.size())) return false;
    const auto& crossings = rows_[static_cast<size_t>(row)];
    return (std::ranges::upper_bound(crossings, p.x()) - crossings.begin()) % 2 == 1;
  }

 private:
  void cross(Vec2 a, Vec2 b) {
    if (a.y() > b.y()) std::swap(a, b);
    // through the middles of rows
    const auto rowAt = [&](float y) { return std::ceil((y - first_) * kRowsAPixel - 0.5f); };
    const float last = std::min(rowAt(b.y()), static_cast<float>(rows_.size()));
    for (float r = std::max(0.f, rowAt(a.y())); r < last; ++r) {
      const float y = first_ + (r + 0.5f) / kRowsAPixel;
      rows_[static_cast<size_t>(r)].push_back(a.x() + (y - a.y()) / (b.y() - a.y()) * (b.x() - a.x()));
    }
  }

  float first_ = 0;
  std::vector<std::vector<float>> rows_;
};

// Whether a sample is seen: it faces the eye, and what looks at it from there meets nothing before.
class Seen {
 public:
  explicit Seen(const Eye& eye) : eye_(eye), lens_(eye.camera, eye.size), surface_(eye.skin->surface()) {}

  bool operator()(uint32_t sample) const {
    const Vec3 &place = surface_.positions[sample], &normal = surface_.normals[sample];
    const Vec3 way = lens_.toViewer(place);
    if (normal.dot(way) <= 0) return false;
    const Vec3 before = place + 0.3f * surface_.spacing * (way + normal);
    const Ray ray = lens_.rayThrough(lens_.project(before).head<2>());
    const float reach = (before - ray.origin).dot(ray.direction);
    return reach <= 0 || !eye_.skin->blocked(ray, reach, eye_.hidden);
  }

 private:
  const Eye& eye_;
  Lens lens_;
  const Surface& surface_;
};

// Weights 0…1 that go over from inside to outside along the skin.
void soften(const Surface& surface, float soft, const std::vector<char>& inside,
            std::vector<float>& weights) {
  std::vector<DistanceSeed> rim;
  for (uint32_t s = 0; s < surface.size(); ++s) {
    float nearest = std::numeric_limits<float>::infinity();
    for (const uint32_t n : surface.neighborsOf(s))
      if (inside[n] != inside[s])
        nearest = std::min(nearest, 0.5f * (surface.positions[n] - surface.positions[s]).norm());
    if (nearest < soft) rim.push_back({s, nearest});
  }
  const Distances near = distancesFrom(edgesOf(surface), rim, 0.5f * soft);
  for (size_t i = 0; i < near.samples.size(); ++i) {
    const float way = std::min(1.f, near.values[i] / (0.5f * soft));
    const float t = 0.5f + (inside[near.samples[i]] ? 0.5f : -0.5f) * way;
    weights[near.samples[i]] = t * t * (3 - 2 * t);
  }
}

}  // namespace

Result<ScalarField> insideLasso(const Eye& eye, std::span<const Vec2> outline, const LassoSetting& setting,
                                const Progress& progress) {
  for (const Vec2& p : outline)
    if (!p.allFinite() || p.cwiseAbs().maxCoeff() > 1e6f) return Error{"the outline leaves the picture"};
  if (outline.size() < 3) return Error{"the outline goes around nothing"};
  const Surface& surface = eye.skin->surface();
  const Rows rows(outline);
  const Lens lens(eye.camera, eye.size);
  const Seen seen(eye);
  const auto cut = cutAwayBy(eye.camera);
  std::vector<char> inside(surface.size(), 0);
  const bool whole = parallelUntil(
      0, surface.size(), [&] { return !report(progress, 0.2f); },
      [&](size_t s) {
        const uint32_t part = surface.parts[s];
        if (setting.part != kNone ? part != setting.part : eye.hidden.contains(part)) return;
        const Vec3& place = surface.positions[s];
        if (cut && cut->normal.dot(place) > cut->offset) return;
        const Vec3 at = lens.project(place);
        if (!eye.camera.parallel && at.z() <= 0) return;
        inside[s] = rows.hold(at.head<2>()) && (!setting.frontOnly || seen(static_cast<uint32_t>(s)));
      });
  if (!whole || !report(progress, 0.7f)) return cancelledError();
  if (std::ranges::find(inside, 1) == inside.end())
    return Error{setting.frontOnly ? "no skin that faces the eye lies inside the outline"
                                   : "no skin lies inside the outline"};
  std::vector<float> weights(inside.begin(), inside.end());
  if (setting.soft > 0) soften(surface, setting.soft, inside, weights);
  const ScalarField none(surface.size());
  return mapField(none, [&](size_t c, size_t begin, size_t end) -> ScalarField::Pointer {
    if (std::all_of(weights.begin() + static_cast<std::ptrdiff_t>(begin),
                    weights.begin() + static_cast<std::ptrdiff_t>(end), [](float w) { return w <= 0; }))
      return nullptr;
    auto chunk = none.writable(c);
    for (size_t s = begin; s < end; ++s) chunk->plane[0][s - begin] = to16(weights[s]);
    return chunk;
  });
}

}  // namespace juvenor
