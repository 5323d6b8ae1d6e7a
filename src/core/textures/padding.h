// What lies around the islands of a tile: every texel that nothing covers takes the value of the nearest one
// that something does, so that filtering and smaller versions of the picture find no seam. Distances are
// exact (Meijster, Roerdink, Hesselink 2000: columns first, then rows).
#pragma once

#include <algorithm>
#include <cstdint>
#include <functional>
#include <span>
#include <vector>

#include "core/progress.h"

namespace juvenor {

inline constexpr uint32_t kPadAll = ~uint32_t{0};

class Padding {
 public:
  /// `cover`: one byte a texel, row by row; those that are `covered` have a value to give.
  Padding(std::span<const uint8_t> cover, uint8_t covered, int width, int height);

  /// Fills texels that are not covered from the nearest ones that are, `planes` values each, row by row, in
  /// place. `reachOf(texel)`: from how far (texels; kPadAll: from anywhere).
  template <class T, class ReachOf>
  void fill(std::span<T> values, size_t planes, const ReachOf& reachOf) const {
    eachRow([&](int y, std::span<const int> columns) {
      const size_t row = static_cast<size_t>(y) * static_cast<size_t>(width_);
      for (size_t x = 0; x < columns.size(); ++x) {
        const size_t at = row + x;
        if (columns[x] < 0 || rows_[at] == 0) continue;
        const auto column = static_cast<size_t>(columns[x]);
        const int64_t across = static_cast<int64_t>(x) - columns[x], up = rows_[row + column];
        const uint32_t reach = reachOf(at);
        if (reach != kPadAll && across * across + up * up > int64_t{reach} * int64_t{reach}) continue;
        const size_t source = static_cast<size_t>(y + up) * static_cast<size_t>(width_) + column;
        std::copy_n(values.data() + source * planes, planes, values.data() + at * planes);
      }
    });
  }

 private:
  /// The column of the nearest covered texel for each texel of every row, on all cores; −1: there is none.
  void eachRow(const std::function<void(int y, std::span<const int> columns)>& take) const;
  void nearestInRow(int y, std::vector<int>& columns, std::vector<int>& sites, std::vector<int>& from) const;

  int width_, height_;
  /// How many rows down (up: below 0) the nearest covered texel of each one's own column lies.
  std::vector<int16_t> rows_;
};

}  // namespace juvenor
