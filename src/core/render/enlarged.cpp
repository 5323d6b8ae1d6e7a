#include "core/render/enlarged.h"

#include <algorithm>
#include <vector>

#include "core/parallel.h"

namespace juvenor {
namespace {

// Where a pixel of the whole lies between two of the small one's.
struct Between {
  uint32_t first, second;
  uint32_t part;  // of the second, 256 is all
};

std::vector<Between> betweens(int whole, int small, int part) {
  std::vector<Between> out;
  for (int i = 0; i < whole; ++i) {
    // in 1/256 of a small pixel, from the middle of the first
    const int at = (2 * i + 1) * 128 / part - 128, last = 256 * (small - 1);
    const int place = std::clamp(at, 0, last), first = place / 256;
    out.push_back({static_cast<uint32_t>(first), static_cast<uint32_t>(std::min(first + 1, small - 1)),
                   static_cast<uint32_t>(place % 256)});
  }
  return out;
}

// Red with blue and green by themselves have room for eight more bits each.
uint32_t mixedPixel(uint32_t a, uint32_t b, uint32_t part) {
  constexpr uint32_t kRedBlue = 0x00ff00ff, kGreen = 0x0000ff00;
  const uint32_t rest = 256 - part;
  const uint32_t rb = ((a & kRedBlue) * rest + (b & kRedBlue) * part + 0x00800080) >> 8 & kRedBlue;
  const uint32_t g = ((a & kGreen) * rest + (b & kGreen) * part + 0x00008000) >> 8 & kGreen;
  return 0xff000000 | rb | g;
}

// Every pixel of a row becomes `part`, each at the same place between two in all of them: where the part is
// known when this is compiled several are made at once. A pixel more stands at either end of the row.
inline __attribute__((always_inline)) void widen(std::span<const uint32_t> row, size_t part, uint32_t* out) {
  const size_t width = row.size() - 2;
  for (size_t i = 0; i < width; ++i)
    for (size_t k = 0; k < part; ++k) {
      // in 1/256 of a small pixel, from its middle
      const int at = static_cast<int>((2 * k + 1) * 128 / part) - 128;
      const uint32_t* first = row.data() + i + (at < 0 ? 0 : 1);
      out[part * i + k] = mixedPixel(first[0], first[1], static_cast<uint32_t>(at) & 255);
    }
}

}  // namespace

void enlarge(std::span<const uint32_t> small, int part, const ViewSize& whole, std::span<uint32_t> out) {
  const ViewSize size = partOf(whole, part);
  const auto width = static_cast<size_t>(size.width), wide = static_cast<size_t>(whole.width);
  const std::vector<Between> down = betweens(whole.height, size.height, part);
  parallelStretches(0, down.size(), 16, [&](size_t begin, size_t end) {
    std::vector<uint32_t> row(width + 2), line(static_cast<size_t>(part) * width);
    for (size_t y = begin; y < end; ++y) {
      const Between& v = down[y];
      const uint32_t *upper = &small[v.first * width], *lower = &small[v.second * width];
      for (size_t x = 0; x < width; ++x) row[x + 1] = mixedPixel(upper[x], lower[x], v.part);
      row[0] = row[1];
      row[width + 1] = row[width];
      if (part == 2)
        widen(row, 2, line.data());
      else if (part == 3)
        widen(row, 3, line.data());
      else
        widen(row, static_cast<size_t>(part), line.data());
      std::copy_n(line.begin(), wide, out.begin() + static_cast<ptrdiff_t>(y * wide));
    }
  });
}

}  // namespace juvenor
