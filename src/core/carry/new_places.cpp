#include "core/carry/new_places.h"

#include <algorithm>
#include <limits>

#include "core/surface/closest_on_triangle.h"

namespace juvenor {

NewPlaces::NewPlaces(std::shared_ptr<const Surface> fresh, std::shared_ptr<const Was> was, RaysPointer old,
                     std::vector<std::set<uint32_t>> parts)
    : fresh_(std::move(fresh)), was_(std::move(was)), old_(std::move(old)), parts_(std::move(parts)) {
  blocks_.resize((fresh_->size() + kBlockSize - 1) / kBlockSize);
  for (size_t s = 0; s < fresh_->size(); ++s) blocks_[s / kBlockSize].add(was_->positions[s]);
}

std::optional<uint32_t> NewPlaces::nearest(const Vec3& place, const Vec3& normal, uint32_t part) const {
  float best = std::numeric_limits<float>::max();
  std::optional<uint32_t> out;
  for (size_t b = 0; b < blocks_.size(); ++b) {
    if (blocks_[b].squaredDistance(place) >= best) continue;
    const size_t end = std::min(fresh_->size(), (b + 1) * kBlockSize);
    for (size_t s = b * kBlockSize; s < end; ++s) {
      const float distance = (was_->positions[s] - place).squaredNorm();
      if (distance >= best || was_->normals[s].dot(normal) < 0.2f) continue;
      if (part != kNone && !parts_[fresh_->parts[s]].contains(part)) continue;
      best = distance;
      out = static_cast<uint32_t>(s);
    }
  }
  return out;
}

std::optional<MovedPlace> NewPlaces::find(const Vec3& place, uint32_t part) const {
  const auto skin = old_->nearest(place, old_->surface().bounds.diagonal());
  if (!skin) return std::nullopt;
  const auto found = nearest(place, skin->normal, part);
  if (!found) return std::nullopt;
  const uint32_t s = *found;
  MovedPlace out{fresh_->positions[s], fresh_->parts[s]};
  float best = (was_->positions[s] - place).norm();
  const auto around = fresh_->neighborsOf(s);
  for (const uint32_t a : around)
    for (const uint32_t b : fresh_->neighborsOf(a)) {
      if (b <= a || std::ranges::find(around, b) == around.end()) continue;
      const auto &p = was_->positions, &now = fresh_->positions;
      const Vec3 on = closestOnTriangle(place, p[s], p[a], p[b]);
      if (!((on - place).norm() < best)) continue;
      best = (on - place).norm();
      const Vec2 w = weightsOnTriangle(on, p[s], p[a], p[b]);
      out.place = (1 - w.x() - w.y()) * now[s] + w.x() * now[a] + w.y() * now[b];
    }
  return out;
}

}  // namespace juvenor
