#include "core/growth/cell_places.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/parallel.h"
#include "core/seeded.h"
#include "core/surface/field.h"

namespace juvenor {
namespace {

using Place = CellPlaces::Place;

int16_t inUnits(float v) {
  return static_cast<int16_t>(std::lround(std::clamp(v, -7.9f, 7.9f) * CellPlaces::kUnit));
}

Place placed(uint32_t cell, const Vec2& at, float edge) {
  Place out;
  out.cell = cell;
  out.along = inUnits(at.x());
  out.across = inUnits(at.y());
  out.edge = static_cast<uint16_t>(std::clamp(edge, 0.f, 1.99f) * CellPlaces::kEdge);
  return out;
}

// What is the same for all samples of a cell: where the middle of each cell around it lies.
struct Around {
  float apart;  // widths
  Vec2 toward;  // unit
};

// One for each neighbour of each cell.
std::vector<Around> aroundAll(const SkinCells& cells) {
  std::vector<Around> out(cells.neighbors.size());
  parallel(
      cells.cells.size(),
      [&](size_t c) {
        for (uint32_t k = cells.start[c]; k < cells.start[c + 1]; ++k) {
          const Vec2 there = cells.cells[c].placeOf(cells.cells[cells.neighbors[k]].position);
          out[k] = {there.norm(), there.normalized()};
        }
      },
      512);
  return out;
}

// One of the lines that bound a cell.
struct CellBorder {
  float far = 1;              // widths
  uint32_t neighbor = kNone;  // its number among all cells' neighbours
};

// Where two borders meet, by how far both are: on a flat, with the angle their cells' middles tell. Opposite
// borders meet nowhere near.
void placeCorner(const SkinCells& cells, std::span<const Around> all, uint32_t own, const CellBorder& first,
                 const CellBorder& second, Place& out) {
  constexpr float kLeastSine2 = 0.15f;
  if (first.neighbor == kNone || second.neighbor == kNone) return;
  const float cosine = -all[first.neighbor].toward.dot(all[second.neighbor].toward),
              sine2 = 1 - cosine * cosine;
  if (!(sine2 > kLeastSine2)) return;
  const float a = std::max(0.f, first.far), b = std::max(0.f, second.far);
  const float far = std::sqrt((a * a + b * b + 2 * a * b * cosine) / sine2);
  out.corner = static_cast<uint8_t>(std::min(1.f, 2 * far) * CellPlaces::kCorner);
  const auto beyond = [&](const CellBorder& border) {
    return cells.cells[cells.neighbors[border.neighbor]].key;
  };
  const uint32_t key = cells.cells[own].key + beyond(first) + beyond(second);  // in any order
  out.cornerKey = static_cast<uint8_t>(Draws(key, 11).bits());
}

// The cell its node belongs to or one around it, whichever is nearest; and how far the border is: half of
// what the measures differ by over what the middles are apart, as on a flat.
Place tiled(const SkinCells& cells, std::span<const Around> all, uint32_t first, const Vec3& point) {
  constexpr float kLeastApart = 0.3f;
  const auto measure = [&](uint32_t c) { return cells.cells[c].measureTo(point); };
  uint32_t own = first;
  float best = measure(first);
  std::array<float, 16> known;  // of those around the first, which mostly is its own
  const auto aroundFirst = cells.around(first);
  for (size_t k = 0; k < aroundFirst.size(); ++k) {
    const float far2 = measure(aroundFirst[k]);
    if (k < known.size()) known[k] = far2;
    if (far2 < best) {
      best = far2;
      own = aroundFirst[k];
    }
  }
  const uint32_t start = cells.start[own];
  CellBorder next, second;
  for (uint32_t k = 0; k < cells.start[own + 1] - start; ++k) {
    const float far2 = own == first && k < known.size() ? known[k] : measure(cells.neighbors[start + k]);
    const float apart = std::max(kLeastApart, all[start + k].apart);
    const CellBorder border{0.5f * (far2 - best) / apart, start + k};
    if (border.far < next.far) {
      second = next;
      next = border;
    } else if (border.far < second.far) {
      second = border;
    }
  }
  Place out = placed(own, cells.cells[own].placeOf(point), 2 * next.far);
  placeCorner(cells, all, own, next, second, out);
  return out;
}

// For each cell the cells whose leaves may cover what it owns: itself, those around it, and, where leaves are
// long, those around them.
struct NearLeaves {
  std::vector<uint32_t> start{0}, cells;
  std::vector<float> chance;  // of each cell: how high it lies in its row

  NearLeaves(const SkinCells& all, bool far) {
    for (uint32_t c = 0; c < all.cells.size(); ++c) {
      const size_t first = cells.size();
      cells.push_back(c);
      for (const uint32_t n : all.around(c)) {
        cells.push_back(n);
        if (far) cells.insert(cells.end(), all.around(n).begin(), all.around(n).end());
      }
      std::sort(cells.begin() + static_cast<std::ptrdiff_t>(first), cells.end());
      cells.erase(std::unique(cells.begin() + static_cast<std::ptrdiff_t>(first), cells.end()), cells.end());
      start.push_back(static_cast<uint32_t>(cells.size()));
      chance.push_back(heightInPile(all.cells[c], Vec2::Zero()));
    }
  }
  std::span<const uint32_t> of(uint32_t cell) const {
    return std::span(cells).subspan(start[cell], start[cell + 1] - start[cell]);
  }
};

// The highest of the leaves that cover a place lies on top: whole up to a narrow rim of its own, and deeper
// the nearer it comes to those that lie over it.
Place leaf(const SkinCells& cells, const NearLeaves& near, uint32_t owner, const LeafShape& shape,
           const Vec3& point) {
  constexpr float kRim = 4, kUnder = 1.8f;  // how much steeper edges are than those of cells side by side
  constexpr float kFarOff = 0.6f;           // beyond it a leaf says nothing of a place
  struct Leaf {
    uint32_t cell = kNone;
    Vec2 place = Vec2::Zero();
    float inside = 0, height = 0;
  };
  std::array<Leaf, 48> seen;
  size_t count = 0;
  Leaf nearest, top;
  float nearestFar2 = std::numeric_limits<float>::max();
  for (const uint32_t c : near.of(owner)) {
    const Vec2 place = cells.cells[c].placeOf(point);
    if (const float far2 = place.squaredNorm(); far2 < nearestFar2) {
      nearestFar2 = far2;
      nearest = {c, place, 0, 0};
    }
    if (place.x() > shape.length + kFarOff || place.x() < -1 - kFarOff || std::abs(place.y()) > 1 + kFarOff)
      continue;
    const Leaf leaf{c, place, insideLeaf(shape, place), place.x() + near.chance[c]};
    if (leaf.inside > 0 && (top.cell == kNone || leaf.height > top.height)) top = leaf;
    if (leaf.inside > -kFarOff && count < seen.size()) seen[count++] = leaf;
  }
  if (top.cell == kNone) return placed(nearest.cell, nearest.place, 0);
  float edge = std::min(1.f, kRim * top.inside);
  for (size_t i = 0; i < count; ++i)
    if (seen[i].height > top.height) edge = std::min(edge, -kUnder * seen[i].inside);
  return placed(top.cell, top.place, edge);
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

CellChunks::CellChunks(const CellPlaces& places, size_t cells) {
  std::vector<std::vector<uint32_t>> within(chunkCount(places.of.size()));
  parallel(
      within.size(),
      [&](size_t c) {
        const size_t first = c * kChunkSize, end = std::min(places.of.size(), first + kChunkSize);
        auto& list = within[c];
        for (size_t s = first; s < end; ++s)
          if (const uint32_t cell = places.of[s].cell; cell != kNone && (list.empty() || list.back() != cell))
            list.push_back(cell);
        std::ranges::sort(list);
        const auto doubles = std::ranges::unique(list);
        list.erase(doubles.begin(), doubles.end());
      },
      1);
  start_.assign(cells + 1, 0);
  for (const auto& list : within)
    for (const uint32_t cell : list) ++start_[cell + 1];
  std::partial_sum(start_.begin(), start_.end(), start_.begin());
  chunks_.resize(start_.back());
  std::vector<uint32_t> next(start_.begin(), start_.end() - 1);
  for (uint32_t c = 0; c < within.size(); ++c)
    for (const uint32_t cell : within[c]) chunks_[next[cell]++] = c;
}

Result<CellPlaces> tiledPlaces(const Surface& surface, const CellGround& ground, const SkinCells& cells,
                               const Progress& progress) {
  const std::vector<Around> all = aroundAll(cells);
  return placesOf(surface, ground, cells, progress,
                  [&](uint32_t owner, const Vec3& point) { return tiled(cells, all, owner, point); });
}

Result<CellPlaces> leafPlaces(const Surface& surface, const CellGround& ground, const SkinCells& cells,
                              const LeafShape& shape, const Progress& progress) {
  const NearLeaves near(cells, shape.length > 1);
  return placesOf(surface, ground, cells, progress,
                  [&](uint32_t owner, const Vec3& point) { return leaf(cells, near, owner, shape, point); });
}

}  // namespace juvenor
