// Fast marching, which measures distance along the skin: Sethian 1996, Kimmel and Sethian 1998, carried on
// inside each triangle as a circle around the source unfolded into its plane (Novotni and Klein 2002), or
// from a rim as a straight line. It runs over anything with places and edges: samples, or the nodes of a
// coarser skin.
#pragma once

#include <algorithm>
#include <cmath>
#include <limits>
#include <queue>

#include "core/surface/distance/distance.h"

namespace juvenor {

class FastMarching {
 public:
  /// What a front looks like from close by: circles around a place, or straight lines along a rim.
  enum class Wave { Circles, Lines };
  FastMarching(const SkinEdges& skin, float reach, Wave wave)
      : skin_(skin),
        reach_(reach),
        wave_(wave),
        distance_(skin.positions.size(), kFar),
        settled_(skin.positions.size(), 0) {}

  /// Where it starts, and how far that is already.
  void seed(uint32_t sample, float distance) { offer(sample, distance); }

  /// Runs as far as the reach.
  Distances run() {
    Distances out;
    while (!queue_.empty()) {
      const auto [distance, sample] = queue_.top();
      queue_.pop();
      if (settled_[sample]) continue;
      settled_[sample] = 1;
      out.samples.push_back(sample);
      carryOn(sample);
    }
    std::sort(out.samples.begin(), out.samples.end());
    out.values.reserve(out.samples.size());
    for (const uint32_t s : out.samples) out.values.push_back(distance_[s]);
    return out;
  }

 private:
  static constexpr float kFar = std::numeric_limits<float>::infinity();
  using Entry = std::pair<float, uint32_t>;

  void offer(uint32_t sample, float distance) {
    if (distance > reach_ || distance >= distance_[sample]) return;
    distance_[sample] = distance;
    queue_.emplace(distance, sample);
  }

  void carryOn(uint32_t from) {
    const auto around = skin_.neighborsOf(from);
    for (const uint32_t to : around) {
      if (settled_[to]) continue;
      float best = distance_[from] + (skin_.positions[to] - skin_.positions[from]).norm();
      // triangles on both sides of the edge: what both ends neighbour (both lists are sorted)
      const auto other = skin_.neighborsOf(to);
      for (size_t i = 0, k = 0; i < around.size() && k < other.size();) {
        if (around[i] < other[k])
          ++i;
        else if (around[i] > other[k])
          ++k;
        else {
          if (settled_[around[i]]) best = std::min(best, across(from, around[i], to));
          ++i;
          ++k;
        }
      }
      offer(to, best);
    }
  }

  // The distance of `to` as a front that came over the edge a–b reaches it; far when it does not come that
  // way.
  float across(uint32_t a, uint32_t b, uint32_t to) const {
    const Vec3& origin = skin_.positions[a];
    const Vec3 edge = skin_.positions[b] - origin, reachOut = skin_.positions[to] - origin;
    const float length = edge.norm();
    if (!(length > 0)) return kFar;
    const float tx = reachOut.dot(edge) / length, ty2 = reachOut.squaredNorm() - tx * tx;
    const Vec2 there(tx, std::sqrt(std::max(0.f, ty2)));
    return wave_ == Wave::Circles ? circle(distance_[a], distance_[b], length, there)
                                  : line(distance_[a], distance_[b], length, there);
  }

  // A front that runs straight: its slope along the edge tells its direction.
  static float line(float da, float db, float length, const Vec2& to) {
    const float along = (db - da) / length, up2 = 1 - along * along;
    if (!(up2 > 0)) return kFar;
    const float up = std::sqrt(up2), crossing = to.x() - along / up * to.y();
    return crossing >= 0 && crossing <= length ? da + along * to.x() + up * to.y() : kFar;
  }

  // Seen from the source unfolded behind the edge.
  static float circle(float da, float db, float length, const Vec2& to) {
    const float sx = (da * da - db * db + length * length) / (2 * length);
    const float sy = std::sqrt(std::max(0.f, da * da - sx * sx));
    if (!(sy + to.y() > 0)) return kFar;
    const float crossing = sx + (to.x() - sx) * sy / (sy + to.y());
    return crossing >= 0 && crossing <= length ? Vec2(to.x() - sx, sy + to.y()).norm() : kFar;
  }

  SkinEdges skin_;
  float reach_;
  Wave wave_;
  std::vector<float> distance_;
  std::vector<char> settled_;
  std::priority_queue<Entry, std::vector<Entry>, std::greater<>> queue_;
};

}  // namespace juvenor
