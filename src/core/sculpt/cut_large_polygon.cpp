// Ears are cut one after the other (Meisters 1975). Only reflex corners can lie in an ear, and those wait in
// the cells of a grid; so a corner is looked at with the few reflex ones near it. One goes on where the last
// ear was: a round cap is cut in one or two rounds.
#include "core/sculpt/cut_large_polygon.h"

#include <algorithm>
#include <cmath>

namespace juvenor {
namespace {

using Point = Eigen::Vector2d;

double turn(const Point& a, const Point& b, const Point& c) {
  return (b.x() - a.x()) * (c.y() - a.y()) - (b.y() - a.y()) * (c.x() - a.x());
}

class Grid {
 public:
  explicit Grid(const std::vector<Point>& points) : points_(points) {
    low_ = high_ = points.front();
    for (const Point& p : points) {
      low_ = low_.cwiseMin(p);
      high_ = high_.cwiseMax(p);
    }
    side_ = std::clamp<size_t>(static_cast<size_t>(std::sqrt(static_cast<double>(points.size()))), 1, 1024);
    cells_.resize(side_ * side_);
  }
  void add(uint32_t i) { cell(i).push_back(i); }
  void remove(uint32_t i) {
    auto& c = cell(i);
    const auto at = std::ranges::find(c, i);
    if (at == c.end()) return;
    *at = c.back();
    c.pop_back();
  }
  /// Whether `is` holds for any in the box around three points.
  template <class Is>
  bool any(const Point& a, const Point& b, const Point& c, Is is) const {
    const Point low = a.cwiseMin(b).cwiseMin(c), high = a.cwiseMax(b).cwiseMax(c);
    const auto from = placeOf(low), to = placeOf(high);
    for (size_t y = from[1]; y <= to[1]; ++y)
      for (size_t x = from[0]; x <= to[0]; ++x)
        for (const uint32_t i : cells_[y * side_ + x])
          if (is(i)) return true;
    return false;
  }

 private:
  std::array<size_t, 2> placeOf(const Point& p) const {
    std::array<size_t, 2> out{};
    for (Eigen::Index k = 0; k < 2; ++k) {
      const double wide = high_[k] - low_[k];
      const double at = wide > 0 ? (p[k] - low_[k]) / wide * static_cast<double>(side_) : 0;
      out[static_cast<size_t>(k)] = std::min(static_cast<size_t>(std::max(at, 0.0)), side_ - 1);
    }
    return out;
  }
  std::vector<uint32_t>& cell(uint32_t i) {
    const auto at = placeOf(points_[i]);
    return cells_[at[1] * side_ + at[0]];
  }

  const std::vector<Point>& points_;
  Point low_, high_;
  size_t side_ = 1;
  std::vector<std::vector<uint32_t>> cells_;
};

class Ring {
 public:
  explicit Ring(const std::vector<Point>& points) : p_(points), reflex_(points) {
    const auto n = static_cast<uint32_t>(points.size());
    before_.resize(n);
    after_.resize(n);
    isReflex_.resize(n);
    for (uint32_t i = 0; i < n; ++i) {
      before_[i] = (i + n - 1) % n;
      after_[i] = (i + 1) % n;
    }
    for (uint32_t i = 0; i < n; ++i) {
      isReflex_[i] = bends(i) <= 0;
      if (isReflex_[i]) reflex_.add(i);
    }
  }
  uint32_t before(uint32_t i) const { return before_[i]; }
  uint32_t after(uint32_t i) const { return after_[i]; }
  bool isEar(uint32_t i) const {
    if (isReflex_[i]) return false;
    const uint32_t ia = before_[i], ic = after_[i];
    const Point &a = p_[ia], &b = p_[i], &c = p_[ic];
    return !reflex_.any(a, b, c, [&](uint32_t q) {
      return q != ia && q != i && q != ic && turn(a, b, p_[q]) >= 0 && turn(b, c, p_[q]) >= 0 &&
             turn(c, a, p_[q]) >= 0;
    });
  }
  void cut(uint32_t i) {
    if (isReflex_[i]) reflex_.remove(i);
    const uint32_t a = before_[i], c = after_[i];
    after_[a] = c;
    before_[c] = a;
    for (const uint32_t q : {a, c}) {
      if (!isReflex_[q] || bends(q) <= 0) continue;
      isReflex_[q] = false;
      reflex_.remove(q);
    }
  }

 private:
  double bends(uint32_t i) const { return turn(p_[before_[i]], p_[i], p_[after_[i]]); }

  const std::vector<Point>& p_;
  Grid reflex_;
  std::vector<uint32_t> before_, after_;
  std::vector<bool> isReflex_;
};

}  // namespace

void cutLargePolygon(const std::vector<Point>& corners, std::vector<std::array<uint32_t, 3>>& out) {
  Ring ring(corners);
  size_t left = corners.size(), passed = 0;
  uint32_t at = 0;
  while (left > 3) {
    // degenerate or self-crossing: any cut is as good as another
    if (!ring.isEar(at) && passed < left) {
      at = ring.after(at);
      ++passed;
      continue;
    }
    out.push_back({ring.before(at), at, ring.after(at)});
    const uint32_t next = ring.after(ring.after(at));
    ring.cut(at);
    at = next;
    passed = 0;
    --left;
  }
  out.push_back({ring.before(at), at, ring.after(at)});
}

}  // namespace juvenor
