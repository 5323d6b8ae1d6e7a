#include "core/surface/cell_places.h"

#include <algorithm>
#include <cmath>

#include "core/parallel.h"
#include "core/seeded.h"

namespace juvenor {
namespace {

using Place = CellPlaces::Place;

int16_t inUnits(float v) {
  return static_cast<int16_t>(std::lround(std::clamp(v, -7.9f, 7.9f) * CellPlaces::kUnit));
}

Place placed(uint32_t cell, const Vec2& at, float edge) {
  return {cell, inUnits(at.x()), inUnits(at.y()),
          static_cast<uint16_t>(std::clamp(edge, 0.f, 1.99f) * CellPlaces::kEdge)};
}

// The cell its node belongs to or one around it, whichever is nearest; and how far the border is: half of
// what the measures differ by over what the middles are apart, as on a flat.
Place tiled(const SkinCells& cells, uint32_t first, const Vec3& point) {
  constexpr float kLeastApart = 0.3f;
  const auto measure = [&](uint32_t c) { return cells.cells[c].measureTo(point); };
  uint32_t own = first;
  float best = measure(first);
  for (const uint32_t c : cells.around(first))
    if (const float far2 = measure(c); far2 < best) {
      best = far2;
      own = c;
    }
  const SkinCell& cell = cells.cells[own];
  float border = 1;
  for (const uint32_t c : cells.around(own)) {
    const float apart = std::max(kLeastApart, cell.placeOf(cells.cells[c].position).norm());
    border = std::min(border, 0.5f * (measure(c) - best) / apart);
  }
  return placed(own, cell.placeOf(point), 2 * border);
}

// Leaves over a place: of its own cell, those around it, and those around them.
class Leaves {
 public:
  Leaves(const SkinCells& cells, const LeafShape& shape, const Vec3& point)
      : cells_(cells), shape_(shape), point_(point) {}

  void look(uint32_t cell) {
    const Leaf leaf{cell, cells_.cells[cell].placeOf(point_), 0, 0};
    const float inside = insideLeaf(shape_, leaf.place), far2 = leaf.place.squaredNorm();
    if (far2 < nearestFar2_) {
      nearestFar2_ = far2;
      nearest_ = leaf;
    }
    if (seen_ < around_.size())
      around_[seen_++] = {cell, leaf.place, inside, heightInPile(cells_.cells[cell], leaf.place)};
  }

  // The highest of those that cover the place lies on top: whole up to a narrow rim of its own, and deeper
  // the nearer it comes to those that lie over it.
  Place top() const {
    constexpr float kRim = 4, kUnder = 1.8f;  // how much steeper edges are than those of cells side by side
    const Leaf* own = nullptr;
    for (size_t i = 0; i < seen_; ++i)
      if (around_[i].inside > 0 && (!own || around_[i].height > own->height)) own = &around_[i];
    if (!own) return placed(nearest_.cell, nearest_.place, 0);
    float edge = kRim * own->inside;
    for (size_t i = 0; i < seen_; ++i)
      if (around_[i].height > own->height) edge = std::min(edge, -kUnder * around_[i].inside);
    return placed(own->cell, own->place, edge);
  }

 private:
  struct Leaf {
    uint32_t cell = kNone;
    Vec2 place = Vec2::Zero();
    float inside = 0, height = 0;
  };
  const SkinCells& cells_;
  const LeafShape& shape_;
  Vec3 point_;
  std::array<Leaf, 64> around_;
  size_t seen_ = 0;
  Leaf nearest_;
  float nearestFar2_ = std::numeric_limits<float>::max();
};

Place leaf(const SkinCells& cells, uint32_t first, const LeafShape& shape, const Vec3& point) {
  Leaves leaves(cells, shape, point);
  leaves.look(first);
  for (const uint32_t c : cells.around(first)) {
    leaves.look(c);
    if (shape.length <= 1) continue;
    for (const uint32_t d : cells.around(c))
      if (d != first) leaves.look(d);
  }
  return leaves.top();
}

template <class Placing>
Result<CellPlaces> placesOf(const Surface& surface, const CellGround& ground, const SkinCells& cells,
                            const Progress& progress, Placing placing) {
  CellPlaces out;
  out.of.resize(surface.size());
  std::atomic<bool> stopped = false;
  constexpr size_t kPiece = 4096;
  parallel((surface.size() + kPiece - 1) / kPiece,
           [&](size_t piece) {
             const size_t end = std::min(surface.size(), (piece + 1) * kPiece);
             if (stopped || !report(progress, static_cast<float>(end) / static_cast<float>(surface.size()))) {
               stopped = true;
               return;
             }
             for (size_t s = piece * kPiece; s < end; ++s)
               if (const uint32_t owner = cells.owners[ground.level.over(static_cast<uint32_t>(s))];
                   owner != kNone)
                 out.of[s] = placing(owner, surface.positions[s]);
           },
           1);
  if (stopped) return cancelledError();
  return out;
}

}  // namespace

float heightInPile(const SkinCell& cell, const Vec2& place) {
  constexpr float kChance = 0.3f;  // beside the distance of rows, which is nearly 1
  return place.x() + kChance * Draws(cell.key, 5).unit();
}

float insideLeaf(const LeafShape& shape, const Vec2& place) {
  // widest in the front half, where neighbours meet; from there to the tip it closes
  constexpr float kHalf = 0.64f, kBack = 0.7f;
  const float x = place.x(), y = std::abs(place.y()) / kHalf;
  if (x <= 0) {
    const float back = -x / kBack;
    return 1 - std::sqrt(back * back + y * y);
  }
  const float t = x / shape.length;
  // between one like a fingernail and one like a willow leaf
  const float round = 1 - std::cbrt(t * t * t + y * y * y), pointed = 1 - t * t - y;
  return round + shape.point * (pointed - round);
}

Result<CellPlaces> tiledPlaces(const Surface& surface, const CellGround& ground, const SkinCells& cells,
                               const Progress& progress) {
  return placesOf(surface, ground, cells, progress,
                  [&](uint32_t owner, const Vec3& point) { return tiled(cells, owner, point); });
}

Result<CellPlaces> leafPlaces(const Surface& surface, const CellGround& ground, const SkinCells& cells,
                              const LeafShape& shape, const Progress& progress) {
  return placesOf(surface, ground, cells, progress,
                  [&](uint32_t owner, const Vec3& point) { return leaf(cells, owner, shape, point); });
}

}  // namespace juvenor
