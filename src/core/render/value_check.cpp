// The blur is three box blurs in a row, which come close to a bell (Wells 1986), rows and columns apart; a
// fourth channel carries how much sculpt there is, by which the others are divided in the end.
#include "core/render/value_check.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>

namespace juvenor {
namespace {

using Channels = std::array<float, 4>;

// One box of 2r + 1 along a line of `count` pixels, `stride` apart; the ends go on as they are.
void boxLine(std::span<Channels> pixels, size_t start, size_t stride, int count, int radius,
             std::vector<Channels>& line) {
  line.resize(static_cast<size_t>(count));
  for (int i = 0; i < count; ++i)
    line[static_cast<size_t>(i)] = pixels[start + static_cast<size_t>(i) * stride];
  const auto at = [&](int i) -> const Channels& {
    return line[static_cast<size_t>(std::clamp(i, 0, count - 1))];
  };
  const float part = 1 / static_cast<float>(2 * radius + 1);
  Channels sum{};
  for (int k = -radius; k <= radius; ++k)
    for (size_t c = 0; c < 4; ++c) sum[c] += at(k)[c];
  for (int i = 0; i < count; ++i) {
    Channels& out = pixels[start + static_cast<size_t>(i) * stride];
    for (size_t c = 0; c < 4; ++c) {
      out[c] = sum[c] * part;
      sum[c] += at(i + radius + 1)[c] - at(i - radius)[c];
    }
  }
}

void blur(std::span<Channels> pixels, const ViewSize& size, int radius) {
  const auto width = static_cast<size_t>(size.width);
  for (int pass = 0; pass < 3; ++pass) {
    tbb::parallel_for(tbb::blocked_range<int>(0, size.height, 16), [&](const auto& rows) {
      std::vector<Channels> line;
      for (int y = rows.begin(); y < rows.end(); ++y)
        boxLine(pixels, static_cast<size_t>(y) * width, 1, size.width, radius, line);
    });
    tbb::parallel_for(tbb::blocked_range<int>(0, size.width, 16), [&](const auto& columns) {
      std::vector<Channels> line;
      for (int x = columns.begin(); x < columns.end(); ++x)
        boxLine(pixels, static_cast<size_t>(x), width, size.height, radius, line);
    });
  }
}

}  // namespace

void checkValues(const ValueCheck& check, const VisibilityImage& visibility, std::span<uint32_t> pixels) {
  if (!check.active()) return;
  const auto sculpt = [&](size_t i) { return visibility.triangle[i] != kNone; };
  std::vector<Channels> work(pixels.size());
  for (size_t i = 0; i < pixels.size(); ++i) {
    if (!sculpt(i)) continue;
    for (size_t c = 0; c < 3; ++c) work[i][c] = static_cast<float>((pixels[i] >> (16 - 8 * c)) & 0xff);
    work[i][3] = 1;
  }
  // three boxes of radius r have the variance r(r + 1)
  const int radius = static_cast<int>(std::lround(std::sqrt(check.squint * check.squint + 0.25f) - 0.5f));
  if (radius > 0) blur(work, visibility.size, radius);
  const auto stepped = [&](float v) {
    if (check.steps < 2) return v;
    const auto n = static_cast<float>(check.steps);
    return std::min(n - 1, std::floor(v / 256 * n)) * 255 / (n - 1);
  };
  for (size_t i = 0; i < pixels.size(); ++i) {
    if (!sculpt(i)) continue;
    uint32_t p = 0xff;
    for (size_t c = 0; c < 3; ++c)
      p = p << 8 | static_cast<uint32_t>(std::clamp(stepped(work[i][c] / work[i][3]) + 0.5f, 0.f, 255.f));
    pixels[i] = p;
  }
}

ValueHistogram valueHistogram(const VisibilityImage& visibility, std::span<const uint32_t> pixels) {
  ValueHistogram out{};
  for (size_t i = 0; i < pixels.size() && i < visibility.triangle.size(); ++i) {
    if (visibility.triangle[i] == kNone) continue;
    const float r = static_cast<float>(pixels[i] >> 16 & 0xff), g = static_cast<float>(pixels[i] >> 8 & 0xff),
                b = static_cast<float>(pixels[i] & 0xff);
    ++out[static_cast<size_t>(std::min(63.f, (0.2126f * r + 0.7152f * g + 0.0722f * b) / 4))];
  }
  return out;
}

}  // namespace juvenor
