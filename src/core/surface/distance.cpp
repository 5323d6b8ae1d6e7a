#include "core/surface/distance.h"

#include <algorithm>
#include <cmath>
#include <queue>

#include "core/surface/search.h"

namespace juvenor {
namespace {

class Front {
 public:
  // What a front looks like from close by: circles around a place, or straight lines along a rim.
  enum class Wave { Circles, Lines };
  Front(const Surface& surface, float reach, Wave wave)
      : surface_(surface),
        reach_(reach),
        wave_(wave),
        distance_(surface.size(), kFar),
        settled_(surface.size(), 0) {}

  void seed(uint32_t sample, float distance) { offer(sample, distance); }

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
    const auto around = surface_.neighborsOf(from);
    for (const uint32_t to : around) {
      if (settled_[to]) continue;
      float best = distance_[from] + (surface_.positions[to] - surface_.positions[from]).norm();
      // triangles on both sides of the edge: what both ends neighbour (both lists are sorted)
      const auto other = surface_.neighborsOf(to);
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
    const Vec3& origin = surface_.positions[a];
    const Vec3 edge = surface_.positions[b] - origin, reachOut = surface_.positions[to] - origin;
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
    return crossing >= 0 && crossing <= length ? std::hypot(to.x() - sx, sy + to.y()) : kFar;
  }

  const Surface& surface_;
  float reach_;
  Wave wave_;
  std::vector<float> distance_;
  std::vector<char> settled_;
  std::priority_queue<Entry, std::vector<Entry>, std::greater<>> queue_;
};

}  // namespace

Distances distancesFrom(const Surface& surface, const Vec3& place, uint32_t part, float reach) {
  const auto nearest = nearestSample(surface, place, reach, part);
  if (!nearest) return {};
  Front front(surface, reach, Front::Wave::Circles);
  const auto straight = [&](uint32_t s) { return (surface.positions[s] - place).norm(); };
  front.seed(*nearest, straight(*nearest));
  for (const uint32_t n : surface.neighborsOf(*nearest)) front.seed(n, straight(n));
  return front.run();
}

Distances distancesFrom(const Surface& surface, std::span<const DistanceSeed> seeds, float reach) {
  Front front(surface, reach, Front::Wave::Lines);
  for (const DistanceSeed& s : seeds) front.seed(s.sample, s.distance);
  return front.run();
}

}  // namespace juvenor
