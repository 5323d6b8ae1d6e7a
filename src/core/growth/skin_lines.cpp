// A line meets skin that lies askew to it less often, by the cosine between them (Cauchy and Crofton's
// formula); kept by one over the sum of the three cosines the hits are even.
#include "core/growth/skin_lines.h"

#include <tbb/enumerable_thread_specific.h>

#include <algorithm>
#include <atomic>
#include <bit>
#include <limits>
#include <tuple>

#include "core/parallel.h"
#include "core/seeded.h"

namespace juvenor {
namespace {

class Lines {
 public:
  Lines(const Surface& surface, float cell, uint32_t seed, float part)
      : surface_(surface),
        back_(surface.turn.transpose()),
        cell_(cell),
        perCell_(1 / cell),
        part_(part),
        seed_(seed) {}

  static constexpr size_t kGroup = 16;

  /// Of triangles that follow each other, kGroup at most, and so lie near each other: a line is asked for
  /// once for all of them, and most lines pass most of them by.
  void meet(size_t first, size_t end, std::vector<LineHit>& out) const {
    Group group;
    group.first = static_cast<uint32_t>(first);
    group.count = end - first;
    for (size_t t = 0; t < kGroup; ++t)
      for (size_t k = 0; k < 3; ++k) {
        // what is missing in the last group is the last triangle again, and not asked
        const Vec3 p = back_ * surface_.positions[surface_.triangles[std::min(first + t, end - 1)][k]];
        group.corners[t][k] = p;
        for (int axis = 0; axis < 3; ++axis) {
          float &low = group.low[axis][t], &high = group.high[axis][t];
          low = k == 0 ? p[axis] : std::min(low, p[axis]);
          high = k == 0 ? p[axis] : std::max(high, p[axis]);
        }
      }
    for (int axis = 0; axis < 3; ++axis) meetAlong(axis, group, out);
  }

 private:
  using Corners = std::array<Vec3, 3>;

  // The line of a cell seen along an axis, and what else is drawn for it.
  struct Line {
    float x, y;
    Draws draws;
  };
  Line lineOf(int axis, int64_t i, int64_t j) const {
    Draws draws(hashOf(axis, i, j));
    const uint64_t jitter = draws.bits();
    return {(static_cast<float>(i) + static_cast<float>(jitter >> 40) * 0x1p-24f) * cell_,
            (static_cast<float>(j) + static_cast<float>(jitter & 0xffffff) * 0x1p-24f) * cell_, draws};
  }

  struct Group {
    uint32_t first;
    size_t count;
    std::array<Corners, kGroup> corners;
    float low[3][kGroup], high[3][kGroup];  // of each triangle, axis by axis
  };

  void meetAlong(int axis, const Group& group, std::vector<LineHit>& out) const {
    constexpr int64_t kFew = 32;
    const int u = (axis + 1) % 3, v = (axis + 2) % 3;
    const auto least = [&](int of) { return *std::min_element(group.low[of], group.low[of] + kGroup); };
    const auto most = [&](int of) { return *std::max_element(group.high[of], group.high[of] + kGroup); };
    const float left = least(u), right = most(u), low = least(v), high = most(v);
    const int64_t i0 = cellOf(left), i1 = cellOf(right), j0 = cellOf(low), j1 = cellOf(high);
    if (i1 - i0 >= kFew || (i1 - i0 + 1) * (j1 - j0 + 1) > kFew) {
      for (size_t t = 0; t < group.count; ++t)
        meetRows(axis, group.first + static_cast<uint32_t>(t), group.corners[t], out);
      return;
    }
    for (int64_t j = j0; j <= j1; ++j)
      for (int64_t i = i0; i <= i1; ++i) {
        const Line line = lineOf(axis, i, j);
        if ((line.x < left) | (line.x > right) | (line.y < low) | (line.y > high)) continue;
        uint32_t near = 0;
        for (uint32_t t = 0; t < kGroup; ++t)
          near |= static_cast<uint32_t>((line.x >= group.low[u][t]) & (line.x <= group.high[u][t]) &
                                        (line.y >= group.low[v][t]) & (line.y <= group.high[v][t]))
                  << t;
        near &= (1u << group.count) - 1;
        for (; near; near &= near - 1) {
          const auto t = static_cast<uint32_t>(std::countr_zero(near));
          meetOne(axis, line, group.first + t, group.corners[t], out);
        }
      }
  }

  // A row at a time: the box around a large triangle would hold many cells beside it.
  void meetRows(int axis, uint32_t triangle, const Corners& p, std::vector<LineHit>& out) const {
    const int u = (axis + 1) % 3, v = (axis + 2) % 3;
    const auto [low, high] = std::minmax({p[0][v], p[1][v], p[2][v]});
    const auto [left, right] = std::minmax({p[0][u], p[1][u], p[2][u]});
    for (int64_t j = cellOf(low); j <= cellOf(high); ++j) {
      const auto [from, to] = acrossRow(p, u, v, j);
      for (int64_t i = from; i <= to; ++i) {
        const Line line = lineOf(axis, i, j);
        if (line.x >= left && line.x <= right && line.y >= low && line.y <= high)
          meetOne(axis, line, triangle, p, out);
      }
    }
  }

  void meetOne(int axis, Line line, uint32_t triangle, const Corners& p, std::vector<LineHit>& out) const {
    const int u = (axis + 1) % 3, v = (axis + 2) % 3;
    const Vec3 normal = (p[1] - p[0]).cross(p[2] - p[0]);
    if (normal[axis] == 0 || !Sides(p, u, v, normal[axis] > 0).hold(line.x, line.y)) return;
    Vec3 place;
    place[u] = line.x;
    place[v] = line.y;
    place[axis] =
        p[0][axis] - (normal[u] * (line.x - p[0][u]) + normal[v] * (line.y - p[0][v])) / normal[axis];
    Draws own(line.draws.bits(), static_cast<uint64_t>(cellOf(place[axis])));
    if (!(own.unit() < normal.norm() / normal.cwiseAbs().sum())) return;
    if (const uint64_t draw = own.bits(); turnOf(draw) <= part_)
      out.push_back({surface_.turn * place, triangle, draw});
  }

  uint64_t hashOf(int axis, int64_t i, int64_t j) const {
    return (seed_ * 3 + static_cast<uint64_t>(axis)) * 0x9e3779b97f4a7c15ull ^
           static_cast<uint64_t>(i) * 0xbf58476d1ce4e5b9ull ^
           static_cast<uint64_t>(j) * 0x94d049bb133111ebull;
  }

  int64_t cellOf(float x) const { return floorToWhole(std::clamp(x * perCell_, -1e9f, 1e9f)); }

  // The cells of a row a triangle may reach into.
  std::pair<int64_t, int64_t> acrossRow(const Corners& p, int u, int v, int64_t row) const {
    const float low = static_cast<float>(row) * cell_, high = static_cast<float>(row + 1) * cell_;
    float least = std::numeric_limits<float>::max(), most = std::numeric_limits<float>::lowest();
    const auto add = [&](float x) {
      least = std::min(least, x);
      most = std::max(most, x);
    };
    for (size_t k = 0; k < 3; ++k) {
      const Vec3 &from = p[k], &to = p[(k + 1) % 3];
      if (from[v] >= low && from[v] <= high) add(from[u]);
      for (const float edge : {low, high})
        if ((from[v] < edge) != (to[v] < edge))
          add(from[u] + (to[u] - from[u]) * (edge - from[v]) / (to[v] - from[v]));
    }
    return {cellOf(least - 0.01f * cell_), cellOf(most + 0.01f * cell_)};
  }

  // The three sides of a triangle seen along an axis. Both triangles at a side say yes to a line right on it;
  // who needs no doubles throws them away.
  class Sides {
   public:
    Sides(const Corners& p, int u, int v, bool positive) {
      for (size_t k = 0; k < 3; ++k) {
        const Vec3 &from = p[k], &to = p[(k + 1) % 3];
        // from the same end in both triangles, so that both round alike
        const bool swap = std::tie(from[u], from[v]) > std::tie(to[u], to[v]);
        const Vec3 &s = swap ? to : from, &e = swap ? from : to;
        const float sign = positive != swap ? 1.f : -1.f;
        sides_[k] = {s[u], s[v], sign * (e[u] - s[u]), sign * (e[v] - s[v])};
      }
    }
    bool hold(float x, float y) const {
      return sides_[0].of(x, y) >= 0 && sides_[1].of(x, y) >= 0 && sides_[2].of(x, y) >= 0;
    }

   private:
    struct Side {
      float x, y, alongX, alongY;
      float of(float px, float py) const { return alongX * (py - y) - alongY * (px - x); }
    };
    std::array<Side, 3> sides_;
  };

  const Surface& surface_;
  Eigen::Matrix3f back_;
  float cell_, perCell_, part_;
  uint64_t seed_;
};

}  // namespace

Result<std::vector<LineHit>> skinLines(const Surface& surface, float cell, uint32_t seed,
                                       const Progress& progress, float part) {
  const Lines lines(surface, cell, seed, part);
  const size_t count = surface.triangles.size();
  tbb::enumerable_thread_specific<std::vector<LineHit>> found;
  std::atomic<size_t> done = 0;
  std::atomic<bool> stopped = false;
  parallelStretches(0, count, 4096, [&](size_t begin, size_t end) {
    if (stopped) return;
    auto& own = found.local();
    for (size_t t = begin; t < end; t += Lines::kGroup) lines.meet(t, std::min(t + Lines::kGroup, end), own);
    if (!report(progress, static_cast<float>(done += end - begin) / static_cast<float>(count)))
      stopped = true;
  });
  if (stopped) return cancelledError();
  std::vector<LineHit> out;
  for (const auto& own : found) out.insert(out.end(), own.begin(), own.end());
  return out;
}

}  // namespace juvenor
