// Triangles as pixels, in whole numbers: places are rounded to a 256th of a pixel, so that neighbours agree
// on their edge to the bit, and a pixel's centre on an edge belongs to the triangle right of or below it.
// (The top-left rule of scan conversion, common practice; edge functions: Pineda 1988.)
#include "core/textures/cover_tiles.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace juvenor {
namespace {

constexpr int64_t kFine = 256;  // of a pixel

struct Fine {
  int64_t x, y;
};

// Above 0 left of the way from a to b, as y goes up.
int64_t side(const Fine& a, const Fine& b, const Fine& p) {
  return (b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x);
}

// Whether what lies on this edge, walked with the inside to its left, is inside.
bool keepsEdge(const Fine& a, const Fine& b) {
  return b.y < a.y || (b.y == a.y && b.x < a.x);
}

using Counts = std::vector<uint8_t>;

// Of a triangle moved so that the tile's lower left corner is the origin.
void coverOnce(std::array<Fine, 3> t, int pixels, Counts& counts) {
  const int64_t area = side(t[0], t[1], t[2]);
  if (area == 0) return;
  if (area < 0) std::swap(t[1], t[2]);
  const auto pixelOf = [&](int64_t fine) {
    return static_cast<int>(std::clamp<int64_t>(fine >= 0 ? fine / kFine : -1, -1, pixels));
  };
  const auto [left, right] = std::minmax({t[0].x, t[1].x, t[2].x});
  const auto [bottom, top] = std::minmax({t[0].y, t[1].y, t[2].y});
  const std::array<int64_t, 3> least{keepsEdge(t[0], t[1]) ? 0 : 1, keepsEdge(t[1], t[2]) ? 0 : 1,
                                     keepsEdge(t[2], t[0]) ? 0 : 1};
  for (int y = std::max(0, pixelOf(bottom)); y <= std::min(pixels - 1, pixelOf(top)); ++y)
    for (int x = std::max(0, pixelOf(left)); x <= std::min(pixels - 1, pixelOf(right)); ++x) {
      const Fine p{x * kFine + kFine / 2, y * kFine + kFine / 2};
      if (side(t[0], t[1], p) < least[0] || side(t[1], t[2], p) < least[1] || side(t[2], t[0], p) < least[2])
        continue;
      uint8_t& count = counts[static_cast<size_t>(y) * static_cast<size_t>(pixels) + static_cast<size_t>(x)];
      count = static_cast<uint8_t>(std::min(255, count + 1));
    }
}

// Columns and rows of the tiles a triangle's bounds touch.
struct Touched {
  int left, right, bottom, top;
};
Touched touchedBy(const UvTriangle& t) {
  const auto bound = [&](int axis, auto pick) { return pick({t.uv[0][axis], t.uv[1][axis], t.uv[2][axis]}); };
  const auto low = [](std::initializer_list<float> v) { return std::min(v); };
  const auto high = [](std::initializer_list<float> v) { return std::max(v); };
  const auto at = [](float v, float most) { return static_cast<int>(std::floor(std::clamp(v, -1.f, most))); };
  // (what ends on a tile's border is not in the next one)
  const auto last = [&](float v, float most) {
    return std::max(at(v, most), -1) - (v == std::floor(v) ? 1 : 0);
  };
  Touched out{at(bound(0, low), 10), last(bound(0, high), 10), at(bound(1, low), 900),
              last(bound(1, high), 900)};
  out.right = std::max(out.right, out.left);
  out.top = std::max(out.top, out.bottom);
  return out;
}

}  // namespace

Result<std::vector<UvTile>> coverTiles(std::span<const UvTriangle> triangles, int pixels,
                                       const Progress& progress) {
  constexpr size_t kBetweenReports = 100'000;
  std::map<int, Counts> tiles;
  for (size_t i = 0; i < triangles.size(); ++i) {
    if (i % kBetweenReports == 0 &&
        !report(progress, static_cast<float>(i) / static_cast<float>(triangles.size())))
      return cancelledError();
    const UvTriangle& t = triangles[i];
    if (t.uv[0] == t.uv[1] || t.uv[1] == t.uv[2] || t.uv[2] == t.uv[0]) continue;
    const Touched touched = touchedBy(t);
    for (int v = touched.bottom; v <= touched.top; ++v)
      for (int u = touched.left; u <= touched.right; ++u) {
        const auto number = tileOf(Vec2(static_cast<float>(u) + 0.5f, static_cast<float>(v) + 0.5f));
        if (!number) continue;
        Counts& counts = tiles[*number];
        if (counts.empty()) counts.resize(static_cast<size_t>(pixels) * static_cast<size_t>(pixels), 0);
        std::array<Fine, 3> fine{};
        for (size_t k = 0; k < 3; ++k) {
          const auto to = [&](float value, int tile) {
            return static_cast<int64_t>(std::llround(
                (static_cast<double>(std::clamp(value, -16.f, 1000.f)) - tile) * pixels * kFine));
          };
          fine[k] = {to(t.uv[k].x(), u), to(t.uv[k].y(), v)};
        }
        coverOnce(fine, pixels, counts);
      }
  }
  std::vector<UvTile> out;
  for (const auto& [number, counts] : tiles) {
    const auto all = static_cast<float>(counts.size());
    out.push_back({number,
                   static_cast<float>(std::ranges::count_if(counts, [](uint8_t c) { return c > 0; })) / all,
                   static_cast<float>(std::ranges::count_if(counts, [](uint8_t c) { return c > 1; })) / all});
  }
  return out;
}

}  // namespace juvenor
