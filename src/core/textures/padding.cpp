#include "core/textures/padding.h"

#include <algorithm>
#include <limits>

#include "core/parallel.h"

namespace juvenor {
namespace {

constexpr int16_t kNothing = std::numeric_limits<int16_t>::max();

}  // namespace

Padding::Padding(std::span<const uint8_t> cover, uint8_t covered, int width, int height)
    : width_(width), height_(height), rows_(cover.size(), kNothing) {
  const auto w = static_cast<size_t>(width);
  // a few columns at a time, so that memory is walked in rows
  constexpr size_t kColumns = 256;
  parallel((w + kColumns - 1) / kColumns,
           [&](size_t block) {
             const size_t left = block * kColumns, right = std::min(w, left + kColumns);
             for (int y = 0; y < height_; ++y)
               for (size_t x = left; x < right; ++x) {
                 const size_t at = static_cast<size_t>(y) * w + x;
                 if (cover[at] == covered)
                   rows_[at] = 0;
                 else if (y > 0 && rows_[at - w] != kNothing)
                   rows_[at] = static_cast<int16_t>(rows_[at - w] - 1);
               }
             for (int y = height_ - 2; y >= 0; --y)
               for (size_t x = left; x < right; ++x) {
                 const size_t at = static_cast<size_t>(y) * w + x;
                 const int16_t below = rows_[at + w];
                 // (below 0 it looks up already; what lies below is nearer when fewer rows lead there)
                 if (below == kNothing || below < 0 || rows_[at] == 0) continue;
                 if (rows_[at] == kNothing || below + 1 < -rows_[at])
                   rows_[at] = static_cast<int16_t>(below + 1);
               }
           },
           1);
}

void Padding::nearestInRow(int y, std::vector<int>& columns, std::vector<int>& site,
                           std::vector<int>& from) const {
  const int16_t* row = rows_.data() + static_cast<size_t>(y) * static_cast<size_t>(width_);
  const auto squared = [&](int x, int at) {
    const int64_t across = x - at, up = row[at];
    return across * across + up * up;
  };
  // the lower envelope of the parabolas over the columns that have something: where each begins to be lowest
  site.clear();
  from.clear();
  // the first column from which on b, right of a, is nearer than a
  const auto beginOf = [&](int a, int b) {
    const int64_t ga = row[a], gb = row[b];
    const int64_t top = int64_t{b} * b - int64_t{a} * a + gb * gb - ga * ga, bottom = 2 * int64_t{b - a};
    const int64_t whole = top / bottom;
    return static_cast<int>((top % bottom < 0 ? whole - 1 : whole) + 1);
  };
  for (int x = 0; x < width_; ++x) {
    if (row[x] == kNothing) continue;
    while (!site.empty() && squared(from.back(), site.back()) > squared(from.back(), x)) {
      site.pop_back();
      from.pop_back();
    }
    if (site.empty()) {
      site.push_back(x);
      from.push_back(0);
      continue;
    }
    const int begin = beginOf(site.back(), x);
    if (begin >= width_) continue;
    site.push_back(x);
    from.push_back(std::max(0, begin));
  }
  columns.assign(static_cast<size_t>(width_), -1);
  for (size_t k = 0; k < site.size(); ++k) {
    const int end = k + 1 < site.size() ? from[k + 1] : width_;
    std::fill(columns.begin() + from[k], columns.begin() + end, site[k]);
  }
}

void Padding::eachRow(const std::function<void(int y, std::span<const int> columns)>& take) const {
  constexpr size_t kRows = 32;
  parallel((static_cast<size_t>(height_) + kRows - 1) / kRows,
           [&](size_t block) {
             std::vector<int> columns, sites, from;
             const int bottom = std::min(height_, static_cast<int>((block + 1) * kRows));
             for (int y = static_cast<int>(block * kRows); y < bottom; ++y) {
               nearestInRow(y, columns, sites, from);
               take(y, columns);
             }
           },
           1);
}

}  // namespace juvenor
