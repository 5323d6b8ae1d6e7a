#include "core/surface/distance/exponential_map.h"

#include <algorithm>
#include <cmath>

#include "core/surface/build/search.h"
#include "core/surface/distance/tangent_frames.h"

namespace juvenor {
namespace {

Vec2 vec(const std::array<float, 2>& v) {
  return {v[0], v[1]};
}
Vec3 vec(const std::array<float, 3>& v) {
  return {v[0], v[1], v[2]};
}

// A step along an edge, in the flat: as long as the edge, in its direction seen half way, where the axis lies
// in the middle between how it lies at both ends.
Vec2 stepOf(const Vec3& edge, const Vec3& axis, const Vec3& axisThere, const Vec3& from, const Vec3& to) {
  const Vec3 x = axis + axisThere, up = from + to, y = up.cross(x);
  const float xx = x.squaredNorm(), yy = y.squaredNorm();
  if (!(xx > 0) || !(yy > 0)) return Vec2(edge.dot(axis), edge.dot(from.cross(axis)));
  const Vec2 flat(edge.dot(x) / std::sqrt(xx), edge.dot(y) / std::sqrt(yy));
  const float flat2 = flat.squaredNorm();
  return flat2 > 0 ? Vec2(flat * std::sqrt(edge.squaredNorm() / flat2)) : flat;
}

}  // namespace

void ExponentialMap::begin(const Surface& surface, float reach) {
  constexpr float kMostSteps = 16384;
  if (nodes_.size() != surface.size() || round_ == kNone) {
    nodes_ = Zeroed<Node>(surface.size());
    round_ = 0;
  }
  ++round_;
  reach_ = std::min(reach, 8 * surface.bounds.diagonal());
  hair_ = 0.1f * surface.spacing;
  perStep_ = 1 / std::max({hair_, reach_ / kMostSteps, 1e-30f});
  steps_ = static_cast<size_t>(reach_ * perStep_) + 1;
  if (front_.size() < steps_) front_.resize(steps_);
  for (size_t step = 0; step < steps_; ++step) front_[step].clear();
  turn_ = 0;
}

// False when it is known to be as near already.
bool ExponentialMap::offer(uint32_t sample, float distance) {
  Node& node = nodes_[sample];
  // a turn that comes a hair sooner changes nothing, and costs another place in the front
  if (node.round == round_ && (node.settled || node.distance <= distance + hair_)) return false;
  node.round = round_;
  node.settled = 0;
  node.distance = distance;
  const size_t last = steps_ - 1;
  const float step = distance * perStep_;
  front_[step < static_cast<float>(last) ? std::max(turn_, static_cast<size_t>(step)) : last].push_back(
      sample);
  return true;
}

// The mean of what the settled neighbours say, the nearest counting most.
void ExponentialMap::settle(const Surface& surface, uint32_t sample) {
  Node& node = nodes_[sample];
  Vec2 place = Vec2::Zero();
  Vec3 axis = Vec3::Zero();
  float weights = 0;
  for (const uint32_t n : surface.neighborsOf(sample)) {
    if (!isSettled(n)) continue;
    const Vec3 edge = surface.positions[sample] - surface.positions[n];
    const float weight = 1 / std::max(edge.norm(), 1e-20f);
    const Vec3 theirs = vec(nodes_[n].axis),
               here = carried(theirs, surface.normals[n], surface.normals[sample]);
    place += weight *
             (vec(nodes_[n].place) + stepOf(edge, theirs, here, surface.normals[n], surface.normals[sample]));
    axis += weight * here;
    weights += weight;
  }
  node.settled = 1;
  if (weights <= 0) return;
  place /= weights;
  const Vec3& normal = surface.normals[sample];
  axis = normalizedOr(axis - axis.dot(normal) * normal, normal.unitOrthogonal());
  node.place = {place.x(), place.y()};
  node.axis = {axis.x(), axis.y(), axis.z()};
}

// Where a neighbour may be, well enough to say when it has its turn; settling works it out.
void ExponentialMap::carryOn(const Surface& surface, uint32_t from, const Vec2& half) {
  const Node node = nodes_[from];
  const Vec3 &normal = surface.normals[from], x = vec(node.axis), y = normal.cross(x);
  for (const uint32_t to : surface.neighborsOf(from)) {
    if (isSettled(to) || surface.parts[to] != surface.parts[from]) continue;
    const Vec3 edge = surface.positions[to] - surface.positions[from];
    Vec2 flat(edge.dot(x), edge.dot(y));
    const float flat2 = flat.squaredNorm();
    if (flat2 > 0) flat *= std::sqrt(edge.squaredNorm() / flat2);
    const Vec2 place = vec(node.place) + flat;
    if (std::abs(place.x()) >= half.x() || std::abs(place.y()) >= half.y()) continue;
    if (const float distance = place.norm(); distance < reach_) offer(to, distance);
  }
}

void ExponentialMap::find(const Surface& surface, const SurfacePoint& at, const Vec3& along, float reach,
                          SkinChart& out, const Vec2& half) {
  begin(surface, reach);
  out.samples.clear();
  out.places.clear();
  const Vec3 axis = normalizedOr(along - along.dot(at.normal) * at.normal, at.normal.unitOrthogonal());
  const auto seed = [&](uint32_t s) {
    const Vec3& normal = surface.normals[s];
    const Vec3 there = carried(axis, at.normal, normal);
    const Vec2 place = stepOf(surface.positions[s] - at.position, axis, there, at.normal, normal);
    if (!offer(s, place.norm())) return;
    nodes_[s].place = {place.x(), place.y()};
    nodes_[s].axis = {there.x(), there.y(), there.z()};
  };
  if (at.triangle != kNone)
    for (const uint32_t s : surface.triangles[at.triangle]) seed(s);
  else if (const auto s = nearestSample(surface, at.position, reach, at.part))
    seed(*s);
  for (; turn_ < steps_; ++turn_)
    // it grows meanwhile
    for (size_t i = 0; i < front_[turn_].size(); ++i) {
      const uint32_t sample = front_[turn_][i];
      if (isSettled(sample)) continue;
      settle(surface, sample);
      out.samples.push_back(sample);
      out.places.push_back(vec(nodes_[sample].place));
      carryOn(surface, sample, half);
    }
}

}  // namespace juvenor
