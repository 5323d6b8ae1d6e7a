#include "core/render/squares.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>

#include "core/render/picture.h"

namespace juvenor {
namespace {

// Digits of three by five cells, a row in three bits from the top on.
constexpr std::array<std::array<uint8_t, 5>, 10> kDigits{{{7, 5, 5, 5, 7},
                                                          {2, 6, 2, 2, 7},
                                                          {7, 1, 7, 4, 7},
                                                          {7, 1, 3, 1, 7},
                                                          {5, 5, 7, 1, 1},
                                                          {7, 4, 7, 1, 7},
                                                          {7, 4, 7, 5, 7},
                                                          {7, 1, 2, 2, 2},
                                                          {7, 5, 7, 5, 7},
                                                          {7, 5, 7, 1, 7}}};

// Whether a number is drawn at a place in its square (0…1 each, upwards).
bool isInked(int number, float x, float y) {
  constexpr float kCells = 15;
  const int digits = number < 10 ? 1 : number < 100 ? 2 : 3, width = 4 * digits - 1;
  const int column = static_cast<int>(std::floor(x * kCells - 0.5f * (kCells - static_cast<float>(width)))),
            row = static_cast<int>(std::floor((1 - y) * kCells - 5));
  if (column < 0 || column >= width || column % 4 == 3 || row < 0 || row > 4) return false;
  int shown = number;
  for (int i = digits - 1; i > column / 4; --i) shown /= 10;
  return kDigits[static_cast<size_t>(shown % 10)][static_cast<size_t>(row)] >> (2 - column % 4) & 1;
}

}  // namespace

float greyOfSquare(const Vec2& uv) {
  const Vec2 within = uv - Vec2(std::floor(uv.x()), std::floor(uv.y()));
  const Vec2 at = kSquares * within;
  const int x = std::clamp(static_cast<int>(at.x()), 0, kSquares - 1),
            y = std::clamp(static_cast<int>(at.y()), 0, kSquares - 1);
  const bool light = (x + y) % 2 == 0;
  const bool ink = isInked(y * kSquares + x, at.x() - static_cast<float>(x), at.y() - static_cast<float>(y));
  return light ? (ink ? 0.42f : 0.72f) : (ink ? 0.66f : 0.36f);
}

}  // namespace juvenor
