// The pixels whose centres (or any one point of each) lie in a triangle, in whole numbers: places are rounded
// to a 256th of a pixel, so that neighbours agree on their edge to the bit, and what lies on an edge belongs
// to one of the two. (The top-left rule of scan conversion, common practice; edge functions: Pineda 1988.)
#pragma once

#include <algorithm>
#include <array>
#include <cstdint>
#include <optional>

namespace juvenor {

inline constexpr int64_t kFinePixel = 256;

/// A place in 256ths of a pixel; of some tens of thousands of pixels at most.
struct FinePlace {
  int64_t x, y;
};

/// A row of pixels of a triangle; weights of its second and third corner go straight from pixel to pixel.
struct PixelRun {
  int y, left, right;   ///< right is exclusive
  double u, v;          ///< at the left one
  double stepU, stepV;  ///< from one to the next
};

namespace scan {

inline int64_t side(const FinePlace& a, const FinePlace& b, const FinePlace& p) {
  return (b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x);
}
inline int64_t floorDivided(int64_t a, int64_t b) {
  return a / b - ((a % b != 0 && (a < 0) != (b < 0)) ? 1 : 0);
}

}  // namespace scan

/// Calls `take` with the rows `bottom` … `top` (exclusive) of a triangle that have pixels in 0 … `width`; the
/// pixel (x, y) is looked at in (256 x + offset.x, 256 y + offset.y).
template <class Take>
void scanTriangle(std::array<FinePlace, 3> t, int width, int bottom, int top, const FinePlace& offset,
                  Take&& take) {
  int64_t area = scan::side(t[0], t[1], t[2]);
  if (area == 0) return;
  const bool turned = area < 0;
  if (turned) {
    std::swap(t[1], t[2]);
    area = -area;
  }
  const auto [low, high] = std::minmax({t[0].y, t[1].y, t[2].y});
  const int64_t first =
      std::max<int64_t>(bottom, scan::floorDivided(low - offset.y + kFinePixel - 1, kFinePixel));
  const int64_t last = std::min<int64_t>(top - 1, scan::floorDivided(high - offset.y, kFinePixel));
  for (int64_t y = first; y <= last; ++y) {
    const FinePlace start{offset.x, y * kFinePixel + offset.y};
    int64_t left = 0, right = width - 1;
    std::array<int64_t, 3> at{};  // of the edge opposite each corner, where x is 0
    for (size_t k = 0; k < 3 && left <= right; ++k) {
      const FinePlace &a = t[(k + 1) % 3], &b = t[(k + 2) % 3];
      at[k] = scan::side(a, b, start);
      const int64_t step = -(b.y - a.y) * kFinePixel;  // from one pixel to the next
      // what lies on this edge, walked with the inside to its left, is inside of one of two neighbours
      const int64_t least = b.y < a.y || (b.y == a.y && b.x < a.x) ? 0 : 1;
      if (step > 0)
        left = std::max(left, -scan::floorDivided(at[k] - least, step));
      else if (step < 0)
        right = std::min(right, scan::floorDivided(at[k] - least, -step));
      else if (at[k] < least)
        right = -1;
    }
    if (left > right) continue;
    const auto part = [&](size_t k) {
      const int64_t step = -(t[(k + 2) % 3].y - t[(k + 1) % 3].y) * kFinePixel;
      return std::pair(static_cast<double>(at[k] + left * step) / static_cast<double>(area),
                       static_cast<double>(step) / static_cast<double>(area));
    };
    const auto second = part(turned ? 2 : 1), third = part(turned ? 1 : 2);
    take(PixelRun{static_cast<int>(y), static_cast<int>(left), static_cast<int>(right) + 1, second.first,
                  third.first, second.second, third.second});
  }
}

}  // namespace juvenor
