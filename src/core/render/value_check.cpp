// The blur is three box blurs in a row, which come close to a bell (Wells 1986), rows and columns apart; a
// fourth channel carries how much sculpt there is, by which the others are divided in the end. Sums are of
// whole numbers, so that a part of a picture comes out as all of it would.
#include "core/render/value_check.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_reduce.h>

#include <algorithm>
#include <cmath>

#include "core/parallel.h"

namespace juvenor {
namespace {

// A byte as a whole number with room for fractions.
constexpr int32_t kOne = 4096;
using Channels = std::array<int32_t, 4>;

// One box of 2r + 1 along a line of `count` pixels, `stride` apart; the ends go on as they are.
void boxLine(std::span<Channels> pixels, size_t start, size_t stride, int count, int radius,
             std::vector<Channels>& line) {
  line.resize(static_cast<size_t>(count));
  for (int i = 0; i < count; ++i)
    line[static_cast<size_t>(i)] = pixels[start + static_cast<size_t>(i) * stride];
  const auto at = [&](int i) -> const Channels& {
    return line[static_cast<size_t>(std::clamp(i, 0, count - 1))];
  };
  const int64_t wide = 2 * radius + 1;
  std::array<int64_t, 4> sum{};
  for (int k = -radius; k <= radius; ++k)
    for (size_t c = 0; c < 4; ++c) sum[c] += at(k)[c];
  for (int i = 0; i < count; ++i) {
    Channels& out = pixels[start + static_cast<size_t>(i) * stride];
    for (size_t c = 0; c < 4; ++c) {
      out[c] = static_cast<int32_t>((sum[c] + wide / 2) / wide);
      sum[c] += at(i + radius + 1)[c] - at(i - radius)[c];
    }
  }
}

void blur(std::span<Channels> pixels, const ViewSize& size, int radius) {
  const auto width = static_cast<size_t>(size.width), height = static_cast<size_t>(size.height);
  for (int pass = 0; pass < 3; ++pass) {
    parallelStretches(0, height, 16, [&](size_t begin, size_t end) {
      std::vector<Channels> line;
      for (size_t y = begin; y < end; ++y) boxLine(pixels, y * width, 1, size.width, radius, line);
    });
    parallelStretches(0, width, 16, [&](size_t begin, size_t end) {
      std::vector<Channels> line;
      for (size_t x = begin; x < end; ++x) boxLine(pixels, x, width, size.height, radius, line);
    });
  }
}

// Three boxes of radius r have the variance r(r + 1).
int radiusOf(const ValueCheck& check) {
  return static_cast<int>(std::lround(std::sqrt(check.squint * check.squint + 0.25f) - 0.5f));
}

PixelRect grown(const PixelRect& rect, int by, const ViewSize& size) {
  return PixelRect{rect.left - by, rect.top - by, rect.right + by, rect.bottom + by}.clipped(size);
}

float stepped(const ValueCheck& check, float v) {
  if (check.steps < 2) return v;
  const auto n = static_cast<float>(check.steps);
  return std::min(n - 1, std::floor(v / 256 * n)) * 255 / (n - 1);
}

}  // namespace

PixelRect touchedBy(const ValueCheck& check, const PixelRect& rect, const ViewSize& size) {
  return rect.empty() ? rect : grown(rect, 3 * radiusOf(check), size);
}

void checkValues(const ValueCheck& check, const VisibilityImage& visibility, std::span<uint32_t> pixels) {
  if (!check.active()) return;
  const std::vector<uint32_t> before(pixels.begin(), pixels.end());
  checkValues(check, visibility, before, {0, 0, visibility.size.width, visibility.size.height}, pixels);
}

void checkValues(const ValueCheck& check, const VisibilityImage& visibility, std::span<const uint32_t> pixels,
                 const PixelRect& wanted, std::span<uint32_t> out) {
  const PixelRect rect = wanted.clipped(visibility.size);
  if (rect.empty()) return;
  // what lies as far off as the blur reaches is looked at too
  const int radius = radiusOf(check);
  const PixelRect around = grown(rect, 3 * radius, visibility.size);
  const ViewSize size{around.right - around.left, around.bottom - around.top};
  const auto placeOf = [&](int x, int y) {
    return static_cast<size_t>(y) * static_cast<size_t>(visibility.size.width) + static_cast<size_t>(x);
  };
  const auto within = [&](int x, int y) {
    return static_cast<size_t>(y - around.top) * static_cast<size_t>(size.width) +
           static_cast<size_t>(x - around.left);
  };
  std::vector<Channels> work(static_cast<size_t>(size.width) * static_cast<size_t>(size.height));
  for (int y = around.top; y < around.bottom; ++y)
    for (int x = around.left; x < around.right; ++x) {
      const size_t i = placeOf(x, y);
      if (visibility.triangle[i] == kNone) continue;
      Channels& to = work[within(x, y)];
      for (size_t c = 0; c < 3; ++c) to[c] = kOne * static_cast<int32_t>((pixels[i] >> (16 - 8 * c)) & 0xff);
      to[3] = kOne;
    }
  if (radius > 0) blur(work, size, radius);
  for (int y = rect.top; y < rect.bottom; ++y)
    for (int x = rect.left; x < rect.right; ++x) {
      const size_t i = placeOf(x, y);
      if (visibility.triangle[i] == kNone) {
        out[i] = pixels[i];
        continue;
      }
      const Channels& from = work[within(x, y)];
      uint32_t p = 0xff;
      for (size_t c = 0; c < 3; ++c) {
        const float v = static_cast<float>(from[c]) / static_cast<float>(std::max(1, from[3]));
        p = p << 8 | static_cast<uint32_t>(std::clamp(stepped(check, v) + 0.5f, 0.f, 255.f));
      }
      out[i] = p;
    }
}

ValueHistogram valueHistogram(const VisibilityImage& visibility, std::span<const uint32_t> pixels) {
  return tbb::parallel_reduce(
      tbb::blocked_range<size_t>(0, std::min(pixels.size(), visibility.triangle.size()), 32768),
      ValueHistogram{},
      [&](const auto& range, ValueHistogram out) {
        for (size_t i = range.begin(); i < range.end(); ++i) {
          if (visibility.triangle[i] == kNone) continue;
          const float r = static_cast<float>(pixels[i] >> 16 & 0xff),
                      g = static_cast<float>(pixels[i] >> 8 & 0xff), b = static_cast<float>(pixels[i] & 0xff);
          ++out[static_cast<size_t>(std::min(63.f, (0.2126f * r + 0.7152f * g + 0.0722f * b) / 4))];
        }
        return out;
      },
      [](ValueHistogram a, const ValueHistogram& b) {
        for (size_t i = 0; i < a.size(); ++i) a[i] += b[i];
        return a;
      });
}

}  // namespace juvenor
