#include "core/textures/pack_islands.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

#include "core/textures/scan_triangle.h"

namespace juvenor {
namespace {

constexpr int kSide = 512;  // cells of a tile's edge
constexpr int kWords = kSide / 64;

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
  uint64_t* row(int y) { return &rows[static_cast<size_t>(y) * static_cast<size_t>(words)]; }
  const uint64_t* row(int y) const { return &rows[static_cast<size_t>(y) * static_cast<size_t>(words)]; }
};

// The chart standing so that its bounds are small, and the same a quarter, a half and three quarters on.
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

void quarterTurn(std::vector<std::array<Vec2, 3>>& corners) {
  for (auto& c : corners)
    for (Vec2& p : c) p = Vec2(-p.y(), p.x());
}

Vec2 lowest(const std::vector<std::array<Vec2, 3>>& corners) {
  Vec2 out = Vec2::Constant(std::numeric_limits<float>::max());
  for (const auto& c : corners)
    for (const Vec2& p : c) out = out.cwiseMin(p);
  return out;
}

// With all cells around within a margin: along the rows first, then across them.
Bits grown(const Bits& inside, int margin) {
  const int width = inside.width, height = inside.height, all = width + 2 * margin;
  Bits rows(all, height), out(all, height + 2 * margin);
  for (int y = 0; y < height; ++y) {
    int last = -all;
    for (int x = 0; x < all; ++x) {
      if (x < width && inside.row(y)[x / 64] >> (x % 64) & 1) last = x;
      if (x - last <= 2 * margin) rows.set(x, y);
    }
  }
  for (int y = 0; y < out.height; ++y)
    for (int from = std::max(0, y - 2 * margin); from <= std::min(y, height - 1); ++from)
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
  Tile() : rows_(kWords * kSide, 0) {}
  /// The lowest place, of those the one most to the left, or nothing.
  std::optional<std::array<int, 2>> placeFor(const Bits& bits) const {
    for (int y = 0; y + bits.height <= kSide; ++y)
      for (int x = 0; x + bits.width <= kSide; ++x) {
        const int skip = blocked(bits, x, y);
        if (skip == 0) return std::array{x, y};
        x += skip - 1;
      }
    return std::nullopt;
  }
  void take(const Bits& bits, int x, int y) {
    each(bits, x, y, [](uint64_t& row, uint64_t mask) {
      row |= mask;
      return true;
    });
  }

 private:
  // 0: it fits; else how far to the right it may at the earliest.
  int blocked(const Bits& bits, int x, int y) const {
    bool free = true;
    each(bits, x, y, [&](const uint64_t& row, uint64_t mask) { return free = (row & mask) == 0; });
    return free ? 0 : 1;
  }
  template <class Take>
  void each(const Bits& bits, int x, int y, Take&& take) const {
    const int word = x / 64, shift = x % 64;
    for (int r = 0; r < bits.height; ++r) {
      auto* row = const_cast<uint64_t*>(&rows_[static_cast<size_t>(y + r) * kWords]);
      for (int w = 0; w < bits.words; ++w) {
        const uint64_t value = bits.row(r)[w];
        if (value == 0) continue;
        if (!take(row[word + w], value << shift)) return;
        if (shift > 0 && value >> (64 - shift) != 0 && !take(row[word + w + 1], value >> (64 - shift)))
          return;
      }
    }
  }
  std::vector<uint64_t> rows_;
};

struct Place {
  int tile, quarter, x, y;
};

// Everything at a scale, or nothing where it does not fit.
std::optional<std::vector<Place>> fitted(const std::vector<std::vector<std::array<Vec2, 3>>>& charts,
                                         std::span<const uint32_t> order, int tiles, float cells,
                                         int margin) {
  std::vector<Tile> room(static_cast<size_t>(tiles));
  std::vector<Place> out(charts.size());
  for (const uint32_t chart : order) {
    std::optional<Place> best;
    auto corners = charts[chart];
    std::optional<Bits> bestBits;
    for (int quarter = 0; quarter < 4; ++quarter, quarterTurn(corners)) {
      Bits bits = pictureOf(corners, cells, margin);
      if (bits.width > kSide || bits.height > kSide) continue;
      for (int tile = 0; tile < tiles; ++tile) {
        const auto at = room[static_cast<size_t>(tile)].placeFor(bits);
        if (!at) continue;
        // the place whose far corner lies lowest
        const auto far = [](int t, int y, int h) { return t * 2 * kSide + y + h; };
        if (!best || far(tile, (*at)[1], bits.height) < far(best->tile, best->y, bestBits->height)) {
          best = Place{tile, quarter, (*at)[0], (*at)[1]};
          bestBits = std::move(bits);
        }
        break;
      }
    }
    if (!best) return std::nullopt;
    room[static_cast<size_t>(best->tile)].take(*bestBits, best->x, best->y);
    out[chart] = *best;
  }
  return out;
}

}  // namespace

Result<PackedCharts> packIslands(std::span<const FlatChart> charts, const PackSetting& setting,
                                 const Progress& progress) {
  std::vector<std::vector<std::array<Vec2, 3>>> stood;
  std::vector<uint32_t> order(charts.size());
  double area = 0;
  for (const FlatChart& c : charts) {
    stood.push_back(standing(c));
    // every chart as large as its skin
    const auto even = static_cast<float>(c.area > 0 ? std::sqrt(c.skin / c.area) : 1);
    for (auto& t : stood.back())
      for (Vec2& p : t) p *= even;
    area += c.skin;
  }
  std::iota(order.begin(), order.end(), 0u);
  std::ranges::stable_sort(order, [&](uint32_t a, uint32_t b) { return charts[a].skin > charts[b].skin; });
  const int margin = std::max(1, static_cast<int>(std::ceil(setting.padding * kSide / 2)));
  // what lies around the islands alone must find room
  const double alone = static_cast<double>(charts.size()) * (2.0 * margin + 1) * (2.0 * margin + 1);
  if (alone > static_cast<double>(setting.tiles) * kSide * kSide)
    return Error{"the islands are too many for so few tiles and so much padding"};
  // the largest scale at which all fit, to a part in a hundred
  const double whole = std::sqrt(static_cast<double>(setting.tiles) / std::max(1e-30, area)) * kSide;
  double low = 0.2 * whole, high = whole;
  auto places = fitted(stood, order, setting.tiles, static_cast<float>(low), margin);
  while (!places) {
    high = low;
    low /= 2;
    if (low < 1e-6 * whole) break;
    places = fitted(stood, order, setting.tiles, static_cast<float>(low), margin);
  }
  if (!places) return Error{"the islands are too many for so few tiles"};
  for (int step = 0; step < 9 && high - low > 0.008 * high; ++step) {
    if (!report(progress, static_cast<float>(step) / 9)) return cancelledError();
    const double middle = 0.5 * (low + high);
    if (auto found = fitted(stood, order, setting.tiles, static_cast<float>(middle), margin)) {
      places = std::move(found);
      low = middle;
    } else {
      high = middle;
    }
  }
  PackedCharts out;
  out.scale = static_cast<float>(low / kSide);
  for (uint32_t c = 0; c < charts.size(); ++c) {
    const Place& p = (*places)[c];
    auto corners = stood[c];
    for (int q = 0; q < p.quarter; ++q) quarterTurn(corners);
    const Vec2 origin = lowest(corners);
    const Vec2 at(static_cast<float>(p.x + margin) / kSide + static_cast<float>(p.tile % 10),
                  static_cast<float>(p.y + margin) / kSide + static_cast<float>(p.tile / 10));
    for (auto& t : corners)
      for (Vec2& q : t) q = at + out.scale * (q - origin);
    out.charts.push_back({std::move(corners), 1001 + p.tile});
  }
  return out;
}

}  // namespace juvenor
