#include "core/textures/texel_grid.h"

#include <cmath>
#include <numeric>
#include <set>

#include "core/textures/scan_triangle.h"
#include "core/textures/uv_layout.h"

namespace juvenor {
namespace {

// Far enough beyond a tile's border that nothing inside changes; scanning counts in 64 bits.
constexpr float kFar = 16;
// Larger triangles repeat a picture, or are no layout at all: they count where their middle is.
constexpr float kWide = 4;

bool isLaidOut(const std::array<Vec2, 3>& uv) {
  return uv[0].allFinite() && uv[1].allFinite() && uv[2].allFinite();
}

// The numbers in ascending rank.
std::vector<uint32_t> byRank(size_t count, std::span<const uint32_t> rank) {
  std::vector<uint32_t> out(count);
  std::iota(out.begin(), out.end(), 0u);
  if (!rank.empty()) std::ranges::stable_sort(out, [&](uint32_t a, uint32_t b) { return rank[a] < rank[b]; });
  return out;
}

}  // namespace

std::optional<std::array<FinePlace, 3>> TexelGrid::fineCorners(uint32_t triangle) const {
  const std::array<Vec2, 3> uv = corners_(triangle);
  if (!isLaidOut(uv)) return std::nullopt;
  const auto scale = static_cast<double>(pixels_) * kFinePixel;
  std::array<FinePlace, 3> out;
  for (size_t k = 0; k < 3; ++k) {
    const Vec2 p = (uv[k] - origin_).cwiseMax(-kFar).cwiseMin(kFar);
    out[k] = {std::llround(static_cast<double>(p.x()) * scale),
              std::llround((1 - static_cast<double>(p.y())) * scale)};
  }
  const int64_t whole = pixels_ * kFinePixel;
  const auto [left, right] = std::minmax({out[0].x, out[1].x, out[2].x});
  const auto [top, bottom] = std::minmax({out[0].y, out[1].y, out[2].y});
  if (right < 0 || left > whole || bottom < 0 || top > whole) return std::nullopt;
  return out;
}

TexelGrid::TexelGrid(int tile, int pixels, size_t triangles, Corners corners, std::span<const uint32_t> rank)
    : pixels_(pixels),
      corners_(std::move(corners)),
      origin_(static_cast<float>((tile - 1001) % 10), static_cast<float>((tile - 1001) / 10)),
      start_(static_cast<size_t>((pixels + kBandRows - 1) / kBandRows) + 1, 0) {
  const std::vector<uint32_t> order = byRank(triangles, rank);
  // stretches of the order side by side: first how many each puts into every band, then where they go
  const size_t bands = start_.size() - 1, stretches = std::clamp<size_t>(triangles / 65536, 1, 64);
  std::vector<size_t> counts(stretches * bands, 0);
  const auto eachOf = [&](size_t stretch, auto&& take) {
    const size_t end = triangles * (stretch + 1) / stretches;
    for (size_t i = triangles * stretch / stretches; i < end; ++i) {
      const auto fine = fineCorners(order[i]);
      if (!fine) continue;
      const auto& t = *fine;
      const auto [top, bottom] = std::minmax({t[0].y, t[1].y, t[2].y});
      const auto band = [&](int64_t y) {
        return static_cast<size_t>(std::clamp<int64_t>(scan::floorDivided(y, kFinePixel * kBandRows), 0,
                                                       static_cast<int64_t>(bands) - 1));
      };
      for (size_t b = band(top); b <= band(bottom); ++b) take(stretch * bands + b, order[i]);
    }
  };
  parallel(
      stretches, [&](size_t s) { eachOf(s, [&](size_t at, uint32_t) { ++counts[at]; }); }, 1);
  size_t sum = 0;
  for (size_t b = 0; b < bands; ++b) {
    start_[b] = sum;
    for (size_t s = 0; s < stretches; ++s) sum += std::exchange(counts[s * bands + b], sum);
  }
  start_[bands] = sum;
  triangles_.resize(sum);
  parallel(
      stretches, [&](size_t s) { eachOf(s, [&](size_t at, uint32_t t) { triangles_[counts[at]++] = t; }); },
      1);
}

void TexelGrid::look(int band, const Vec2& place, VisibilityImage& out) const {
  out.resize({pixels_, rows(band)});
  std::ranges::fill(out.triangle, kNone);
  const FinePlace offset{std::llround(static_cast<double>(place.x()) * kFinePixel),
                         std::llround(static_cast<double>(place.y()) * kFinePixel)};
  const auto b = static_cast<size_t>(band);
  for (const uint32_t triangle : std::span(triangles_).subspan(start_[b], start_[b + 1] - start_[b])) {
    auto corners = fineCorners(triangle);
    if (!corners) continue;
    for (FinePlace& p : *corners) p.y -= firstRow(band) * kFinePixel;
    scanTriangle(*corners, pixels_, 0, rows(band), offset, [&](const PixelRun& run) {
      const size_t row = static_cast<size_t>(run.y) * static_cast<size_t>(pixels_);
      double u = run.u, v = run.v;
      for (int x = run.left; x < run.right; ++x, u += run.stepU, v += run.stepV) {
        const size_t at = row + static_cast<size_t>(x);
        if (out.triangle[at] != kNone) continue;
        out.triangle[at] = triangle;
        out.weights[at] = {to16(static_cast<float>(u)), to16(static_cast<float>(v))};
      }
    });
  }
}

Vec2 placeInTexel(int look, int looks) {
  double mirrored = 0, part = 0.5;
  for (int bits = look; bits > 0; bits >>= 1, part /= 2) mirrored += (bits & 1) * part;
  const double n = looks;
  return {static_cast<float>((look + 0.5) / n), static_cast<float>(mirrored + 0.5 / n)};
}

std::vector<int> tilesOf(size_t triangles, const TexelGrid::Corners& corners) {
  std::set<int> out;
  for (size_t t = 0; t < triangles; ++t) {
    const std::array<Vec2, 3> uv = corners(t);
    if (!isLaidOut(uv)) continue;
    // (what only touches a border does not lie beyond it)
    Vec2 low = uv[0].cwiseMin(uv[1]).cwiseMin(uv[2]), high = uv[0].cwiseMax(uv[1]).cwiseMax(uv[2]);
    if ((high - low).maxCoeff() > kWide) low = high = (uv[0] + uv[1] + uv[2]) / 3;
    const auto first = [](float v) { return static_cast<int>(std::floor(std::clamp(v, -1.f, 900.f))); };
    const auto last = [](float v) { return static_cast<int>(std::ceil(std::clamp(v, -1.f, 900.f))) - 1; };
    for (int v = first(low.y()); v <= std::max(first(low.y()), last(high.y())); ++v)
      for (int u = first(low.x()); u <= std::max(first(low.x()), last(std::min(high.x(), 10.f))); ++u)
        if (const auto tile = tileOf(Vec2(static_cast<float>(u) + 0.5f, static_cast<float>(v) + 0.5f)))
          out.insert(*tile);
  }
  return {out.begin(), out.end()};
}

}  // namespace juvenor
