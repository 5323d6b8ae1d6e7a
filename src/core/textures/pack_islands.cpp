#include "core/textures/pack_islands.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <numbers>
#include <numeric>

#include "core/parallel.h"
#include "core/textures/scan_triangle.h"

namespace juvenor {
namespace {

// Rows of bits.
struct Bits {
  int width = 0, height = 0, words = 0;
  std::vector<uint64_t> rows;

  Bits(int w, int h)
      : width(w),
        height(h),
        words((w + 63) / 64),
        rows(static_cast<size_t>(words) * static_cast<size_t>(h), 0) {}
  void set(int x, int y) {
    rows[static_cast<size_t>(y) * static_cast<size_t>(words) + static_cast<size_t>(x / 64)] |= uint64_t{1}
                                                                                               << (x % 64);
  }
  // Where the cells in a row that hang together with one begin.
  int runStart(int x, int y) const {
    for (int w = x / 64; w >= 0; --w) {
      const int top = w == x / 64 ? x % 64 : 63;
      const uint64_t gaps = ~row(y)[w] << (63 - top);
      if (gaps != 0) return w * 64 + top - std::countl_zero(gaps) + 1;
    }
    return 0;
  }
  uint64_t* row(int y) { return &rows[static_cast<size_t>(y) * static_cast<size_t>(words)]; }
  const uint64_t* row(int y) const { return &rows[static_cast<size_t>(y) * static_cast<size_t>(words)]; }
};

// The chart standing so that its bounds are small.
std::vector<std::array<Vec2, 3>> standing(const FlatChart& chart) {
  float best = 0, least = std::numeric_limits<float>::max();
  constexpr int kSteps = 45;
  for (int step = 0; step < kSteps; ++step) {
    const float angle = std::numbers::pi_v<float> / 2 * static_cast<float>(step) / kSteps;
    const Eigen::Rotation2Df turn(angle);
    Vec2 low = Vec2::Constant(std::numeric_limits<float>::max()), high = -low;
    for (const auto& c : chart.corners)
      for (const Vec2& p : c) {
        const Vec2 q = turn * p;
        low = low.cwiseMin(q);
        high = high.cwiseMax(q);
      }
    const float area = (high - low).prod();
    if (area < least) {
      least = area;
      best = angle;
    }
  }
  std::vector<std::array<Vec2, 3>> out = chart.corners;
  const Eigen::Rotation2Df turn(best);
  for (auto& c : out)
    for (Vec2& p : c) p = turn * p;
  return out;
}

// How many ways a chart is tried to lie: by quarters.
constexpr size_t kWays = 4;

std::vector<std::array<Vec2, 3>> turned(std::vector<std::array<Vec2, 3>> corners, size_t way) {
  const Eigen::Rotation2Df turn(2 * std::numbers::pi_v<float> * static_cast<float>(way) / kWays);
  for (auto& c : corners)
    for (Vec2& p : c) p = turn * p;
  return corners;
}

Vec2 lowest(const std::vector<std::array<Vec2, 3>>& corners) {
  Vec2 out = Vec2::Constant(std::numeric_limits<float>::max());
  for (const auto& c : corners)
    for (const Vec2& p : c) out = out.cwiseMin(p);
  return out;
}

// With all cells around within a margin: along the rows first, then across them.
Bits grown(const Bits& inside, int margin) {
  Bits rows(inside.width + 2 * margin, inside.height), out(rows.width, inside.height + 2 * margin);
  for (int y = 0; y < inside.height; ++y)
    for (int shift = 0; shift <= 2 * margin; ++shift)
      for (int w = 0; w < inside.words; ++w) {
        const uint64_t value = inside.row(y)[w];
        if (value == 0) continue;
        const int word = w + shift / 64, bit = shift % 64;
        rows.row(y)[word] |= value << bit;
        if (bit > 0 && value >> (64 - bit) != 0) rows.row(y)[word + 1] |= value >> (64 - bit);
      }
  for (int y = 0; y < out.height; ++y)
    for (int from = std::max(0, y - 2 * margin); from <= std::min(y, inside.height - 1); ++from)
      for (int w = 0; w < out.words; ++w) out.row(y)[w] |= rows.row(from)[w];
  return out;
}

// Every cell a chart touches, and those around within the margin; `cells`: for one of length.
Bits pictureOf(const std::vector<std::array<Vec2, 3>>& corners, float cells, int margin) {
  const Vec2 low = lowest(corners);
  Vec2 high = low;
  for (const auto& c : corners)
    for (const Vec2& p : c) high = high.cwiseMax(p);
  const Vec2 size = cells * (high - low);
  const int width = static_cast<int>(size.x()) + 1, height = static_cast<int>(size.y()) + 1;
  Bits inside(width, height);
  for (const auto& c : corners) {
    std::array<FinePlace, 3> t;
    std::array<Vec2, 3> at;
    for (size_t k = 0; k < 3; ++k) {
      at[k] = cells * (c[k] - low);
      t[k] = {std::llround(at[k].x() * kFinePixel), std::llround(at[k].y() * kFinePixel)};
    }
    scanTriangle(t, width, 0, height, {kFinePixel / 2, kFinePixel / 2}, [&](const PixelRun& run) {
      for (int x = run.left; x < run.right; ++x) inside.set(x, run.y);
    });
    // what is too thin for any cell's middle still touches cells
    for (size_t k = 0; k < 3; ++k) {
      const Vec2 way = at[(k + 1) % 3] - at[k];
      const int steps = static_cast<int>(2 * way.cwiseAbs().maxCoeff()) + 1;
      for (int s = 0; s <= steps; ++s) {
        const Vec2 p = at[k] + static_cast<float>(s) / static_cast<float>(steps) * way;
        inside.set(std::clamp(static_cast<int>(p.x()), 0, width - 1),
                   std::clamp(static_cast<int>(p.y()), 0, height - 1));
      }
    }
  }
  return grown(inside, margin);
}

class Tile {
 public:
  explicit Tile(int side)
      : side_(side),
        words_((side + 63) / 64),
        rows_(static_cast<size_t>(words_) * static_cast<size_t>(side), 0) {}
  /// The lowest place, of those the one most to the left, or nothing.
  std::optional<std::array<int, 2>> placeFor(const Bits& bits) const {
    // where it was blocked last it is likely blocked again
    int likely = 0;
    for (int y = 0; y + bits.height <= side_; ++y)
      for (int x = 0; x + bits.width <= side_;) {
        int skip = blocked(bits, x, y, likely);
        for (int r = 0; skip == 0 && r < bits.height; ++r)
          if ((skip = blocked(bits, x, y, r)) > 0) likely = r;
        if (skip == 0) return std::array{x, y};
        x += skip;
      }
    return std::nullopt;
  }
  void take(const Bits& bits, int x, int y) {
    for (int r = 0; r < bits.height; ++r)
      each(bits, x, r, [&](int word, uint64_t mask) {
        rows_[index(y + r, word)] |= mask;
        return true;
      });
  }

 private:
  size_t index(int y, int word) const {
    return static_cast<size_t>(y) * static_cast<size_t>(words_) + static_cast<size_t>(word);
  }
  // 0: a row of it fits; else how far to the right it may at the earliest: what covers a taken cell covers it
  // until its run of cells has gone past.
  int blocked(const Bits& bits, int x, int y, int row) const {
    int skip = 0;
    each(bits, x, row, [&](int word, uint64_t mask) {
      const uint64_t taken = rows_[index(y + row, word)] & mask;
      if (taken == 0) return true;
      const int cell = word * 64 + 63 - std::countl_zero(taken);
      skip = cell - x - bits.runStart(cell - x, row) + 1;
      return false;
    });
    return skip;
  }
  // The words of a tile's row that a row of cells covers, and what of them.
  template <class Take>
  void each(const Bits& bits, int x, int row, Take&& take) const {
    const int word = x / 64, shift = x % 64;
    for (int w = 0; w < bits.words; ++w) {
      const uint64_t value = bits.row(row)[w];
      if (value == 0) continue;
      if (!take(word + w, value << shift)) return;
      if (shift > 0 && value >> (64 - shift) != 0 && !take(word + w + 1, value >> (64 - shift))) return;
    }
  }

  int side_, words_;
  std::vector<uint64_t> rows_;
};

// By the area of the skin, or by the longer side of what they take.
std::vector<uint32_t> largestFirst(const std::vector<std::vector<std::array<Vec2, 3>>>& charts, bool bySide) {
  std::vector<float> size;
  for (const auto& chart : charts) {
    Eigen::AlignedBox2f box;
    float area = 0;
    for (const auto& c : chart) {
      for (const Vec2& p : c) box.extend(p);
      const Vec2 a = c[1] - c[0], b = c[2] - c[0];
      area += 0.5f * (a.x() * b.y() - a.y() * b.x());
    }
    size.push_back(bySide ? box.sizes().maxCoeff() : area);
  }
  std::vector<uint32_t> out(charts.size());
  std::iota(out.begin(), out.end(), 0u);
  std::ranges::stable_sort(out, [&](uint32_t a, uint32_t b) { return size[a] > size[b]; });
  return out;
}

// Of a tile's edge, and around every island.
struct Cells {
  int side, margin;
};

// So many that the margin is hardly more than it must be; fewer where many islands take long.
Cells cellsFor(size_t charts, float padding) {
  constexpr size_t kMany = 150;
  const float wanted = charts > kMany ? 500.f : 1000.f;
  const int margin = std::max(1, static_cast<int>(std::round(padding * wanted / 2)));
  const float exact = padding > 0 ? 2 * static_cast<float>(margin) / padding : wanted;
  return {static_cast<int>(std::clamp(exact, 0.6f * wanted, 1.6f * wanted)), margin};
}

struct Place {
  int tile;
  size_t way;
  int x, y;
};

// Everything at a scale, or nothing where it does not fit.
std::optional<std::vector<Place>> fitted(const std::vector<std::vector<std::array<Vec2, 3>>>& charts,
                                         std::span<const uint32_t> order, int tiles, float cells,
                                         const Cells& grid) {
  std::vector<Tile> room(static_cast<size_t>(tiles), Tile(grid.side));
  std::vector<Place> out(charts.size());
  for (const uint32_t chart : order) {
    struct Try {
      std::optional<Bits> bits;
      std::optional<Place> place;
    };
    std::array<Try, kWays> tries;
    parallel(
        tries.size(),
        [&](size_t way) {
          Bits bits = pictureOf(turned(charts[chart], way), cells, grid.margin);
          if (bits.width > grid.side || bits.height > grid.side) return;
          for (int tile = 0; tile < tiles && !tries[way].place; ++tile)
            if (const auto at = room[static_cast<size_t>(tile)].placeFor(bits))
              tries[way].place = Place{tile, way, (*at)[0], (*at)[1]};
          tries[way].bits = std::move(bits);
        },
        1);
    // the place whose far corner lies lowest
    const Try* best = nullptr;
    const auto far = [&](const Try& t) {
      return t.place->tile * 2 * grid.side + t.place->y + t.bits->height;
    };
    for (const Try& one : tries)
      if (one.place && (!best || far(one) < far(*best))) best = &one;
    if (!best) return std::nullopt;
    room[static_cast<size_t>(best->place->tile)].take(*best->bits, best->place->x, best->place->y);
    out[chart] = *best->place;
  }
  return out;
}

}  // namespace

Result<PackedCharts> packIslands(std::span<const FlatChart> charts, const PackSetting& setting,
                                 const Progress& progress) {
  std::vector<std::vector<std::array<Vec2, 3>>> stood;
  double area = 0;
  for (const FlatChart& c : charts) {
    stood.push_back(standing(c));
    // every chart as large as its skin
    const auto even = static_cast<float>(c.area > 0 ? std::sqrt(c.skin / c.area) : 1);
    for (auto& t : stood.back())
      for (Vec2& p : t) p *= even;
    area += c.skin;
  }
  const Cells grid = cellsFor(charts.size(), setting.padding);
  // what lies around the islands alone must find room
  const double alone = static_cast<double>(charts.size()) * (2.0 * grid.margin + 1) * (2.0 * grid.margin + 1);
  if (alone > static_cast<double>(setting.tiles) * grid.side * grid.side)
    return Error{"the islands are too many for so few tiles and so much padding"};
  // the largest scale at which all fit, in one order or the other
  const double whole = std::sqrt(static_cast<double>(setting.tiles) / std::max(1e-30, area)) * grid.side;
  std::optional<std::vector<Place>> places;
  double low = 0;
  const std::array orders{largestFirst(stood, false), largestFirst(stood, true)};
  for (size_t o = 0; o < orders.size(); ++o) {
    const auto at = [&](double scale) {
      auto found = fitted(stood, orders[o], setting.tiles, static_cast<float>(scale), grid);
      if (!found) return false;
      places = std::move(found);
      low = scale;
      return true;
    };
    const auto go = [&](float part) {
      return report(progress, (static_cast<float>(o) + part) / static_cast<float>(orders.size()));
    };
    if (o == 0)
      for (double scale = 0.7 * whole; !at(scale); scale /= 2) {
        if (scale < 1e-6 * whole) return Error{"the islands are too many for so few tiles"};
        if (!go(0)) return cancelledError();
      }
    // whether they fit is not quite a matter of size: a little more may go where a little less does not
    constexpr int kSteps = 12;
    double step = 0.12;
    for (int k = 0; k < kSteps && step > 0.006; ++k) {
      if (!go(static_cast<float>(k + 1) / (kSteps + 1))) return cancelledError();
      if (!at(low * (1 + step)) && !at(low * (1 + 0.8 * step))) step /= 2;
    }
  }
  PackedCharts out;
  const auto side = static_cast<float>(grid.side);
  out.scale = static_cast<float>(low / grid.side);
  for (uint32_t c = 0; c < charts.size(); ++c) {
    const Place& p = (*places)[c];
    auto corners = turned(std::move(stood[c]), p.way);
    const Vec2 origin = lowest(corners);
    const Vec2 at(static_cast<float>(p.x + grid.margin) / side + static_cast<float>(p.tile % 10),
                  static_cast<float>(p.y + grid.margin) / side + static_cast<float>(p.tile / 10));
    for (auto& t : corners)
      for (Vec2& q : t) q = at + out.scale * (q - origin);
    out.charts.push_back({std::move(corners), 1001 + p.tile});
  }
  return out;
}

}  // namespace juvenor
