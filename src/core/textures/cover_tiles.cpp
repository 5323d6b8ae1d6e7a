// Each tile a picture of counts, a triangle at a time.
#include "core/textures/cover_tiles.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/textures/scan_triangle.h"

namespace juvenor {
namespace {

using Counts = std::vector<uint8_t>;

// Of a triangle moved so that the tile's lower left corner is the origin.
void coverOnce(const std::array<FinePlace, 3>& t, int pixels, Counts& counts) {
  constexpr FinePlace kCentre{kFinePixel / 2, kFinePixel / 2};
  scanTriangle(t, pixels, 0, pixels, kCentre, [&](const PixelRun& run) {
    uint8_t* row = counts.data() + static_cast<size_t>(run.y) * static_cast<size_t>(pixels);
    for (int x = run.left; x < run.right; ++x) row[x] = static_cast<uint8_t>(std::min(255, row[x] + 1));
  });
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
        std::array<FinePlace, 3> fine{};
        for (size_t k = 0; k < 3; ++k) {
          const auto to = [&](float value, int tile) {
            return static_cast<int64_t>(std::llround(
                (static_cast<double>(std::clamp(value, -16.f, 1000.f)) - tile) * pixels * kFinePixel));
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
