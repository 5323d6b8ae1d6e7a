// The patch of skin under a dab laid flat on the plane of the dab and averaged in a grid of cells a sixth of
// the radius wide: what blend and smear look values up in, so that their softness follows the brush and not
// the density of samples. Averages are taken premultiplied, so that bare places bring no colour of their own.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>

#include "core/brush/ink.h"

namespace juvenor {

class PatchGrid {
 public:
  static constexpr int kCells = 14;  // 12 across the dab and a border
  /// Four planes and the weight they add up to.
  using Cell = std::array<float, 5>;

  /// A place in the patch, split into the four cells around it.
  struct Place {
    int x = 0, y = 0;
    float fx = 0, fy = 0;
  };
  /// `p` in radii, (0, 0) the middle of the dab.
  static Place placeOf(const Vec2& p) {
    const float gx = std::clamp(p.x() * 6.f + 6.5f, 0.f, kCells - 1.001f);
    const float gy = std::clamp(p.y() * 6.f + 6.5f, 0.f, kCells - 1.001f);
    const int x = static_cast<int>(gx), y = static_cast<int>(gy);
    return {x, y, gx - static_cast<float>(x), gy - static_cast<float>(y)};
  }

  /// Adds a sample's values with a weight.
  void add(const Place& place, WorkingField& field, uint32_t sample, float weight) {
    around(place, [&](Cell& cell, float w) {
      for (int p = 0; p < field.planes(); ++p)
        cell[static_cast<size_t>(p)] += w * weight * static_cast<float>(field.value(sample, p));
      cell[4] += w * weight;
    });
  }
  /// The weighted sums at a place; divide by the fifth.
  Cell at(const Place& place) const {
    Cell sum{};
    const_cast<PatchGrid*>(this)->around(place, [&](Cell& cell, float w) {
      for (size_t c = 0; c < 5; ++c) sum[c] += w * cell[c];
    });
    return sum;
  }
  /// Smoothed once with the tent 1-2-1.
  PatchGrid smoothed() const {
    PatchGrid out;
    for (int y = 0; y < kCells; ++y)
      for (int x = 0; x < kCells; ++x)
        for (int dy = -1; dy <= 1; ++dy)
          for (int dx = -1; dx <= 1; ++dx) {
            const int u = x + dx, v = y + dy;
            if (u < 0 || v < 0 || u >= kCells || v >= kCells) continue;
            const auto k = static_cast<float>((2 - std::abs(dx)) * (2 - std::abs(dy)));
            for (size_t c = 0; c < 5; ++c) out.cell(x, y)[c] += k * cells_[index(u, v)][c];
          }
    return out;
  }
  /// Moves a sample's values toward what the grid holds at a place, `amount` (0…1) of the way.
  void drawToward(const Place& place, WorkingField& field, uint32_t sample, float amount,
                  float dither) const {
    const Cell to = at(place);
    if (to[4] <= 0) return;
    const WorkingField::Page& page = field.page(sample);
    const size_t i = sample % kChunkSize;
    for (int p = 0; p < field.planes(); ++p) {
      const float from = page.now[p][i], way = to[static_cast<size_t>(p)] / to[4] - from;
      page.now[p][i] = static_cast<uint16_t>(std::clamp(from + way * amount + dither, 0.f, 65535.f));
    }
  }
  Cell& cell(int x, int y) { return cells_[index(x, y)]; }

 private:
  static size_t index(int x, int y) { return static_cast<size_t>(y * kCells + x); }
  template <class F>
  void around(const Place& p, F&& f) {
    f(cell(p.x, p.y), (1 - p.fx) * (1 - p.fy));
    f(cell(p.x + 1, p.y), p.fx * (1 - p.fy));
    f(cell(p.x, p.y + 1), (1 - p.fx) * p.fy);
    f(cell(p.x + 1, p.y + 1), p.fx * p.fy);
  }

  std::array<Cell, kCells * kCells> cells_{};
};

/// Two axes of the dab's plane, a radius long being 1.
struct PatchAxes {
  Vec3 u, v;
  explicit PatchAxes(const Dab& dab)
      : u(dab.at.normal.unitOrthogonal() / dab.radius), v(dab.at.normal.cross(u)) {}
  Vec2 of(const Vec3& offset) const { return {offset.dot(u), offset.dot(v)}; }
};

}  // namespace juvenor
