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

// The pixels 0…last of a row where none of three shares that change evenly is below 0; none when the first is
// above the second.
std::pair<int, int> rowWithin(const std::array<float, 3>& share, const std::array<float, 3>& slope,
                              int last) {
  constexpr float kHair = 1e-4f;
  float from = 0, to = static_cast<float>(last);
  for (size_t k = 0; k < 3; ++k) {
    if (std::abs(slope[k]) < 1e-12f) {
      if (share[k] < -kHair) return {1, 0};
      continue;
    }
    const float zero = -(share[k] + kHair) / slope[k];
    if (slope[k] > 0)
      from = std::max(from, zero);
    else
      to = std::min(to, zero);
  }
  if (!(from <= to)) return {1, 0};
  return {static_cast<int>(std::ceil(from)), static_cast<int>(std::floor(to))};
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
  const std::vector<Triangle> triangles = trianglesIn(surface, patch);
  const auto draw = [&](const Triangle& t, int top, int bottom) {
    const std::array<Vec2, 3> p{pixelOf(t[0]), pixelOf(t[1]), pixelOf(t[2])};
    const float area = twiceArea(p[0], p[1], p[2]);
    if (!(std::abs(area) > 1e-12f)) return;
    const Vec2 low = p[0].cwiseMin(p[1]).cwiseMin(p[2]), high = p[0].cwiseMax(p[1]).cwiseMax(p[2]);
    const int x0 = std::max(0, static_cast<int>(std::floor(low.x() - 0.5f))),
              x1 = std::min(size.width - 1, static_cast<int>(std::ceil(high.x() - 0.5f))),
              y0 = std::max(top, static_cast<int>(std::floor(low.y() - 0.5f))),
              y1 = std::min(bottom - 1, static_cast<int>(std::ceil(high.y() - 0.5f)));
    // along a row the shares of the three samples, and with them every value, change evenly
    const std::array<float, 3> slope{(p[1].y() - p[2].y()) / area, (p[2].y() - p[0].y()) / area,
                                     (p[0].y() - p[1].y()) / area};
    for (int y = y0; y <= y1; ++y) {
      const Vec2 at(static_cast<float>(x0) + 0.5f, static_cast<float>(y) + 0.5f);
      const std::array<float, 3> share{twiceArea(at, p[1], p[2]) / area, twiceArea(p[0], at, p[2]) / area,
                                       twiceArea(p[0], p[1], at) / area};
      const auto [from, to] = rowWithin(share, slope, x1 - x0);
      const size_t first = static_cast<size_t>(y) * static_cast<size_t>(size.width) + static_cast<size_t>(x0);
      for (int x = from; x <= to; ++x) out.covered[first + static_cast<size_t>(x)] = 1;
      for (size_t k = 0; k < values.size(); ++k) {
        const std::array<float, 3> v{values[k][t[0]], values[k][t[1]], values[k][t[2]]};
        const float begin = share[0] * v[0] + share[1] * v[1] + share[2] * v[2],
                    step = slope[0] * v[0] + slope[1] * v[1] + slope[2] * v[2];
        float* row = out.planes[k].data() + first;
        for (int x = from; x <= to; ++x) row[x] = begin + step * static_cast<float>(x);
      }
    }
  };
  // each core draws rows of its own, all triangles that meet them
  constexpr int kRows = 64;
  parallel(
      static_cast<size_t>((size.height + kRows - 1) / kRows),
      [&](size_t band) {
        const int top = static_cast<int>(band) * kRows;
        for (const Triangle& t : triangles) draw(t, top, std::min(size.height, top + kRows));
      },
      1);
  return out;
}

namespace {

// Means of `by` × `by` pixels of planes, weighed by how much of each is skin.
FlatPicture shrunkPlanes(const FlatPicture& picture, std::span<const std::vector<float>* const> planes,
                         int by) {
  FlatPicture out{(picture.width + by - 1) / by, (picture.height + by - 1) / by, {}, {}};
  const size_t pixels = static_cast<size_t>(out.width) * static_cast<size_t>(out.height);
  out.covered.assign(pixels, 0);
  out.planes.assign(planes.size(), std::vector<float>(pixels, 0));
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
              for (size_t k = 0; k < planes.size(); ++k) out.planes[k][to] += covered * (*planes[k])[from];
            }
          if (skin <= 0) continue;
          out.covered[to] = skin / all;
          for (auto& plane : out.planes) plane[to] /= skin;
        }
      },
      8);
  return out;
}

}  // namespace

FlatPicture shrunk(const FlatPicture& picture, int by) {
  std::vector<const std::vector<float>*> planes;
  for (const auto& plane : picture.planes) planes.push_back(&plane);
  return shrunkPlanes(picture, planes, by);
}

// What is soft over many pixels is worked out with fewer.
SoftPlane::SoftPlane(const std::vector<float>& plane, const FlatPicture& picture, float deviation) {
  constexpr float kEnough = 8;
  while (by_ < 64 && deviation / static_cast<float>(2 * by_) > kEnough) by_ *= 2;
  const std::vector<float>* one[] = {&plane};
  FlatPicture small = shrunkPlanes(picture, one, by_);
  width_ = small.width;
  height_ = small.height;
  values_ = std::move(small.planes.front());
  for (size_t i = 0; i < values_.size(); ++i) values_[i] *= small.covered[i];
  gaussian(values_, width_, height_, deviation / static_cast<float>(by_));
  gaussian(small.covered, width_, height_, deviation / static_cast<float>(by_));
  for (size_t i = 0; i < values_.size(); ++i)
    values_[i] = small.covered[i] > 1e-6f ? values_[i] / small.covered[i] : 0;
}

std::vector<float> SoftPlane::row(int y, int width) const {
  const auto part = [&](int v, int count) {
    return std::clamp((static_cast<float>(v) + 0.5f) / static_cast<float>(by_) - 0.5f, 0.f,
                      static_cast<float>(count - 1));
  };
  const float v = part(y, height_);
  const auto y0 = static_cast<size_t>(v), y1 = std::min(y0 + 1, static_cast<size_t>(height_ - 1));
  const float fy = v - static_cast<float>(y0);
  // between two rows once, then along it
  std::vector<float> between(static_cast<size_t>(width_) + 1), out(static_cast<size_t>(width));
  for (size_t i = 0; i < static_cast<size_t>(width_); ++i)
    between[i] = (1 - fy) * values_[y0 * static_cast<size_t>(width_) + i] +
                 fy * values_[y1 * static_cast<size_t>(width_) + i];
  between.back() = between[between.size() - 2];
  for (int x = 0; x < width; ++x) {
    const float u = part(x, width_);
    const auto x0 = static_cast<size_t>(u);
    const float fx = u - static_cast<float>(x0);
    out[static_cast<size_t>(x)] = (1 - fx) * between[x0] + fx * between[x0 + 1];
  }
  return out;
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
