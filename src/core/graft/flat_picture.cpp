#include "core/graft/flat_picture.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "core/parallel.h"

namespace juvenor {
namespace {

constexpr uint32_t kNoPlace = std::numeric_limits<uint32_t>::max();

// Triangles all of whose samples lie in the patch, as places in its lists.
std::vector<Triangle> trianglesIn(const Surface& surface, const Patch& patch) {
  std::vector<uint32_t> placeOf(surface.size(), kNoPlace);
  for (uint32_t i = 0; i < patch.samples.size(); ++i) placeOf[patch.samples[i]] = i;
  constexpr size_t kPiece = 1 << 16;
  const size_t pieces = (surface.triangles.size() + kPiece - 1) / kPiece;
  std::vector<std::vector<Triangle>> found(pieces);
  parallel(
      pieces,
      [&](size_t p) {
        for (size_t t = p * kPiece; t < std::min(surface.triangles.size(), (p + 1) * kPiece); ++t) {
          Triangle at;
          bool all = true;
          for (size_t k = 0; k < 3; ++k) all &= (at[k] = placeOf[surface.triangles[t][k]]) != kNoPlace;
          if (all) found[p].push_back(at);
        }
      },
      1);
  std::vector<Triangle> out;
  for (const auto& f : found) out.insert(out.end(), f.begin(), f.end());
  return out;
}

float twiceArea(const Vec2& a, const Vec2& b, const Vec2& c) {
  return (b.x() - a.x()) * (c.y() - a.y()) - (b.y() - a.y()) * (c.x() - a.x());
}

// One row of the box of a Gaussian by three running means (Wells 1986): the same work at any width.
void runningMean(std::span<float> row, int half, std::vector<float>& scratch) {
  const auto n = static_cast<int>(row.size());
  scratch.assign(row.begin(), row.end());
  const auto at = [&](int i) { return i < 0 || i >= n ? 0.f : scratch[static_cast<size_t>(i)]; };
  double sum = 0;
  for (int i = -half; i <= half; ++i) sum += static_cast<double>(at(i));
  const double share = 1.0 / (2 * half + 1);
  for (int i = 0; i < n; ++i) {
    row[static_cast<size_t>(i)] = static_cast<float>(sum * share);
    sum += static_cast<double>(at(i + half + 1)) - static_cast<double>(at(i - half));
  }
}

// Half widths of three running means whose variances together are that of the Gaussian.
std::array<int, 3> boxes(float deviation) {
  const float ideal = std::sqrt(4 * deviation * deviation + 1);
  int lower = static_cast<int>(ideal);
  if (lower % 2 == 0) --lower;
  const auto w = static_cast<float>(lower);
  const int small = std::clamp(
      static_cast<int>(std::lround((12 * deviation * deviation - 3 * w * w - 12 * w - 9) / (-4 * w - 4))), 0,
      3);
  std::array<int, 3> out{};
  for (int i = 0; i < 3; ++i) out[static_cast<size_t>(i)] = ((i < small ? lower : lower + 2) - 1) / 2;
  return out;
}

void gaussian(std::vector<float>& plane, int width, int height, float deviation) {
  const auto halves = boxes(deviation);
  parallel(
      static_cast<size_t>(height),
      [&](size_t y) {
        std::vector<float> scratch;
        for (const int half : halves)
          runningMean(std::span(plane).subspan(y * static_cast<size_t>(width), static_cast<size_t>(width)),
                      half, scratch);
      },
      16);
  parallel(
      static_cast<size_t>(width),
      [&](size_t x) {
        std::vector<float> scratch, column(static_cast<size_t>(height));
        for (size_t y = 0; y < column.size(); ++y) column[y] = plane[y * static_cast<size_t>(width) + x];
        for (const int half : halves) runningMean(column, half, scratch);
        for (size_t y = 0; y < column.size(); ++y) plane[y * static_cast<size_t>(width) + x] = column[y];
      },
      16);
}

}  // namespace

FlatPicture drawnFlat(const Surface& surface, const Patch& patch, std::span<const std::vector<float>> values,
                      const FlatSize& size) {
  FlatPicture out{size.width, size.height, {}, {}};
  const size_t pixels = static_cast<size_t>(size.width) * static_cast<size_t>(size.height);
  out.covered.assign(pixels, 0);
  out.planes.assign(values.size(), std::vector<float>(pixels, 0));
  const Vec2 middle = 0.5f * Vec2(static_cast<float>(size.width), static_cast<float>(size.height));
  const auto pixelOf = [&](uint32_t i) {
    return Vec2(middle.x() + patch.places[i].x() / size.pixel, middle.y() - patch.places[i].y() / size.pixel);
  };
  for (const Triangle& t : trianglesIn(surface, patch)) {
    const std::array<Vec2, 3> p{pixelOf(t[0]), pixelOf(t[1]), pixelOf(t[2])};
    const float area = twiceArea(p[0], p[1], p[2]);
    if (!(std::abs(area) > 1e-12f)) continue;
    const Vec2 low = p[0].cwiseMin(p[1]).cwiseMin(p[2]), high = p[0].cwiseMax(p[1]).cwiseMax(p[2]);
    const int x0 = std::max(0, static_cast<int>(std::floor(low.x() - 0.5f))),
              x1 = std::min(size.width - 1, static_cast<int>(std::ceil(high.x() - 0.5f))),
              y0 = std::max(0, static_cast<int>(std::floor(low.y() - 0.5f))),
              y1 = std::min(size.height - 1, static_cast<int>(std::ceil(high.y() - 0.5f)));
    for (int y = y0; y <= y1; ++y)
      for (int x = x0; x <= x1; ++x) {
        const Vec2 at(static_cast<float>(x) + 0.5f, static_cast<float>(y) + 0.5f);
        const std::array<float, 3> share{twiceArea(at, p[1], p[2]) / area, twiceArea(p[0], at, p[2]) / area,
                                         twiceArea(p[0], p[1], at) / area};
        constexpr float kHair = -1e-4f;
        if (share[0] < kHair || share[1] < kHair || share[2] < kHair) continue;
        const size_t pixel =
            static_cast<size_t>(y) * static_cast<size_t>(size.width) + static_cast<size_t>(x);
        out.covered[pixel] = 1;
        for (size_t k = 0; k < values.size(); ++k)
          out.planes[k][pixel] =
              share[0] * values[k][t[0]] + share[1] * values[k][t[1]] + share[2] * values[k][t[2]];
      }
  }
  return out;
}

FlatPicture shrunk(const FlatPicture& picture, int by) {
  FlatPicture out{(picture.width + by - 1) / by, (picture.height + by - 1) / by, {}, {}};
  const size_t pixels = static_cast<size_t>(out.width) * static_cast<size_t>(out.height);
  out.covered.assign(pixels, 0);
  out.planes.assign(picture.planes.size(), std::vector<float>(pixels, 0));
  parallel(
      static_cast<size_t>(out.height),
      [&](size_t row) {
        const int top = static_cast<int>(row) * by, bottom = std::min(picture.height, top + by);
        for (int x = 0; x < out.width; ++x) {
          const size_t to = row * static_cast<size_t>(out.width) + static_cast<size_t>(x);
          float skin = 0, all = 0;
          for (int v = top; v < bottom; ++v)
            for (int u = x * by; u < std::min(picture.width, (x + 1) * by); ++u) {
              const size_t from =
                  static_cast<size_t>(v) * static_cast<size_t>(picture.width) + static_cast<size_t>(u);
              const float covered = picture.covered[from];
              ++all;
              skin += covered;
              for (size_t k = 0; k < out.planes.size(); ++k)
                out.planes[k][to] += covered * picture.planes[k][from];
            }
          if (skin <= 0) continue;
          out.covered[to] = skin / all;
          for (auto& plane : out.planes) plane[to] /= skin;
        }
      },
      8);
  return out;
}

namespace {

// A plane of a small picture read between its pixels, `by` times as large.
std::vector<float> enlarged(const std::vector<float>& plane, int width, int height, int by, int toWidth,
                            int toHeight) {
  std::vector<float> out(static_cast<size_t>(toWidth) * static_cast<size_t>(toHeight));
  const auto step = 1 / static_cast<float>(by);
  parallel(
      static_cast<size_t>(toHeight),
      [&](size_t y) {
        const float v =
            std::clamp((static_cast<float>(y) + 0.5f) * step - 0.5f, 0.f, static_cast<float>(height - 1));
        const auto y0 = static_cast<size_t>(v), y1 = std::min(y0 + 1, static_cast<size_t>(height - 1));
        const float fy = v - static_cast<float>(y0);
        for (int x = 0; x < toWidth; ++x) {
          const float u =
              std::clamp((static_cast<float>(x) + 0.5f) * step - 0.5f, 0.f, static_cast<float>(width - 1));
          const auto x0 = static_cast<size_t>(u), x1 = std::min(x0 + 1, static_cast<size_t>(width - 1));
          const float fx = u - static_cast<float>(x0);
          const auto at = [&](size_t i, size_t j) { return plane[j * static_cast<size_t>(width) + i]; };
          out[y * static_cast<size_t>(toWidth) + static_cast<size_t>(x)] =
              (1 - fy) * ((1 - fx) * at(x0, y0) + fx * at(x1, y0)) +
              fy * ((1 - fx) * at(x0, y1) + fx * at(x1, y1));
        }
      },
      16);
  return out;
}

}  // namespace

// What is soft over many pixels is worked out with fewer.
std::vector<float> softened(const std::vector<float>& plane, const FlatPicture& picture, float width) {
  constexpr float kEnough = 8;
  int by = 1;
  while (by < 64 && width / static_cast<float>(2 * by) > kEnough) by *= 2;
  FlatPicture small{picture.width, picture.height, picture.covered, {plane}};
  if (by > 1) small = shrunk(small, by);
  std::vector<float>& out = small.planes.front();
  for (size_t i = 0; i < out.size(); ++i) out[i] *= small.covered[i];
  const float deviation = width / static_cast<float>(by);
  gaussian(out, small.width, small.height, deviation);
  gaussian(small.covered, small.width, small.height, deviation);
  for (size_t i = 0; i < out.size(); ++i) out[i] = small.covered[i] > 1e-6f ? out[i] / small.covered[i] : 0;
  if (by == 1) return std::move(out);
  return enlarged(out, small.width, small.height, by, picture.width, picture.height);
}

void keepInside(FlatPicture& picture, const Patch& patch, int rim, float pixel) {
  const size_t count = patch.outline.size();
  std::vector<float> crossings;
  for (int y = 0; y < picture.height; ++y) {
    const bool inRows = y >= rim && y < picture.height - rim;
    const float at = (0.5f * static_cast<float>(picture.height) - static_cast<float>(y) - 0.5f) * pixel;
    crossings.clear();
    for (size_t i = 0; i < count; ++i) {
      const Vec2 &a = patch.outline[i], &b = patch.outline[(i + 1) % count];
      if ((a.y() > at) != (b.y() > at))
        crossings.push_back(a.x() + (at - a.y()) / (b.y() - a.y()) * (b.x() - a.x()));
    }
    std::ranges::sort(crossings);
    for (int x = 0; x < picture.width; ++x) {
      const float across = (static_cast<float>(x) + 0.5f - 0.5f * static_cast<float>(picture.width)) * pixel;
      const auto left = std::ranges::upper_bound(crossings, across) - crossings.begin();
      const bool inside = inRows && x >= rim && x < picture.width - rim && (count == 0 || left % 2 == 1);
      if (!inside)
        picture
            .covered[static_cast<size_t>(y) * static_cast<size_t>(picture.width) + static_cast<size_t>(x)] =
            0;
    }
  }
}

// The way to the nearest pixel without skin, by the two passes of a chamfer of 3 and 4 (Borgefors 1986).
std::vector<float> feathered(const FlatPicture& picture, float over) {
  const int w = picture.width, h = picture.height;
  const auto index = [&](int x, int y) {
    return static_cast<size_t>(y) * static_cast<size_t>(w) + static_cast<size_t>(x);
  };
  std::vector<float> way(picture.covered.size());
  const auto before = [&](int x, int y) {
    return x < 0 || y < 0 || x >= w || y >= h ? 0.f : way[index(x, y)];
  };
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x)
      way[index(x, y)] = picture.covered[index(x, y)] <= 0
                             ? 0
                             : std::min({before(x - 1, y) + 3, before(x, y - 1) + 3, before(x - 1, y - 1) + 4,
                                         before(x + 1, y - 1) + 4});
  for (int y = h; y-- > 0;)
    for (int x = w; x-- > 0;)
      way[index(x, y)] = std::min({way[index(x, y)], before(x + 1, y) + 3, before(x, y + 1) + 3,
                                   before(x + 1, y + 1) + 4, before(x - 1, y + 1) + 4});
  for (float& v : way) {
    const float t = over > 0 ? std::clamp((v / 3 - 0.5f) / over, 0.f, 1.f) : static_cast<float>(v > 0);
    v = t * t * (3 - 2 * t);
  }
  return way;
}

std::vector<float> cropped(const std::vector<float>& plane, const FlatPicture& picture, int rim) {
  const int w = picture.width - 2 * rim, h = picture.height - 2 * rim;
  std::vector<float> out;
  out.reserve(static_cast<size_t>(w) * static_cast<size_t>(h));
  for (int y = 0; y < h; ++y) {
    const auto row = plane.begin() + static_cast<std::ptrdiff_t>(y + rim) * picture.width + rim;
    out.insert(out.end(), row, row + w);
  }
  return out;
}

}  // namespace juvenor
