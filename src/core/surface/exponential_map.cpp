#include "core/surface/exponential_map.h"

#include <algorithm>
#include <cmath>

#include "core/surface/search.h"

namespace juvenor {
namespace {

Vec2 vec(const std::array<float, 2>& v) {
  return {v[0], v[1]};
}
Vec3 vec(const std::array<float, 3>& v) {
  return {v[0], v[1], v[2]};
}

// A direction of one tangent plane in another, as turning the first's normal onto the second's takes it.
Vec3 carried(const Vec3& axis, const Vec3& from, const Vec3& to) {
  const Vec3 cross = from.cross(to);
  const float cosine = from.dot(to);
  if (cosine < -0.99f) return normalizedOr(axis - axis.dot(to) * to, to.unitOrthogonal());
  return cosine * axis + cross.cross(axis) + cross.dot(axis) / (1 + cosine) * cross;
}

// A step along an edge, in the flat: as long as the edge, in its direction seen half way.
Vec2 stepOf(const Vec3& edge, const Vec3& axis, const Vec3& from, const Vec3& to) {
  const Vec3 middle = normalizedOr(from + to, from), x = carried(axis, from, middle);
  const Vec2 flat(edge.dot(x), edge.dot(middle.cross(x)));
  const float length = flat.norm();
  return length > 0 ? Vec2(flat * (edge.norm() / length)) : flat;
}

}  // namespace

void ExponentialMap::offer(uint32_t sample, const Vec2& place, const Vec3& axis) {
  Node& node = nodes_[sample];
  const float distance = place.norm();
  if (node.round == round_ && (node.settled || vec(node.place).norm() <= distance)) return;
  node = {round_, 0, {place.x(), place.y()}, {axis.x(), axis.y(), axis.z()}};
  queue_.emplace_back(distance, sample);
  std::ranges::push_heap(queue_, std::greater<>());
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
    const Vec3 theirs = vec(nodes_[n].axis);
    place +=
        weight * (vec(nodes_[n].place) + stepOf(edge, theirs, surface.normals[n], surface.normals[sample]));
    axis += weight * carried(theirs, surface.normals[n], surface.normals[sample]);
    weights += weight;
  }
  node.settled = 1;
  if (weights <= 0) return;
  place /= weights;
  axis = normalizedOr(axis - axis.dot(surface.normals[sample]) * surface.normals[sample], vec(node.axis));
  node.place = {place.x(), place.y()};
  node.axis = {axis.x(), axis.y(), axis.z()};
}

void ExponentialMap::carryOn(const Surface& surface, uint32_t from, float reach) {
  const Node node = nodes_[from];
  for (const uint32_t to : surface.neighborsOf(from)) {
    if (isSettled(to) || surface.parts[to] != surface.parts[from]) continue;
    const Vec3 &normal = surface.normals[from], &other = surface.normals[to];
    const Vec2 place = vec(node.place) +
                       stepOf(surface.positions[to] - surface.positions[from], vec(node.axis), normal, other);
    if (place.norm() < reach) offer(to, place, carried(vec(node.axis), normal, other));
  }
}

void ExponentialMap::find(const Surface& surface, const SurfacePoint& at, const Vec3& along, float reach,
                          SkinChart& out) {
  out.samples.clear();
  out.places.clear();
  if (nodes_.size() != surface.size() || round_ == kNone) {
    nodes_ = Zeroed<Node>(surface.size());
    round_ = 0;
  }
  ++round_;
  queue_.clear();
  const Vec3 axis = normalizedOr(along - along.dot(at.normal) * at.normal, at.normal.unitOrthogonal());
  const auto seed = [&](uint32_t s) {
    const Vec3& normal = surface.normals[s];
    offer(s, stepOf(surface.positions[s] - at.position, axis, at.normal, normal),
          carried(axis, at.normal, normal));
  };
  if (at.triangle != kNone)
    for (const uint32_t s : surface.triangles[at.triangle]) seed(s);
  else if (const auto s = nearestSample(surface, at.position, reach, at.part))
    seed(*s);
  while (!queue_.empty()) {
    std::ranges::pop_heap(queue_, std::greater<>());
    const uint32_t sample = queue_.back().second;
    queue_.pop_back();
    if (isSettled(sample)) continue;
    settle(surface, sample);
    out.samples.push_back(sample);
    out.places.push_back(vec(nodes_[sample].place));
    carryOn(surface, sample, reach);
  }
}

}  // namespace juvenor
