#include "core/textures/onto_mesh.h"

#include <algorithm>

#include "core/parallel.h"

namespace juvenor {

OntoMesh::OntoMesh(const Document& document, const WornMesh& mesh, RaysPointer rays, float reach)
    : surface_(*document.surface), mesh_(mesh), rays_(std::move(rays)), reach_(reach) {
  const auto& names = document.sculpt->parts;
  for (const std::string& name : mesh.partNames) {
    std::set<uint32_t>& hidden = hidden_.emplace_back();
    if (names.size() < 2 || std::ranges::find(names, name) == names.end()) continue;
    for (uint32_t p = 0; p < names.size(); ++p)
      if (names[p] != name) hidden.insert(p);
  }
}

Hit OntoMesh::facing(Ray ray, const Vec3& normal, float reach, const std::set<uint32_t>& hidden) const {
  constexpr int kMostLayers = 8;
  float gone = 0;
  const float lift = liftOf(surface_);
  for (int layer = 0; layer < kMostLayers && gone <= reach; ++layer) {
    auto hit = rays_->first(ray, hidden, reach - gone);
    if (!hit) break;
    const Triangle& t = surface_.triangles[hit->triangle];
    const Vec3& a = surface_.positions[t[0]];
    const Vec3 face = (surface_.positions[t[1]] - a).cross(surface_.positions[t[2]] - a);
    if (face.dot(normal) > 0) {
      hit->distance += gone;
      return *hit;
    }
    const float step = hit->distance + 0.01f * lift;
    gone += step;
    ray.origin += step * ray.direction;
  }
  return {};
}

OntoMesh::Found OntoMesh::at(uint32_t triangle, const Vec2& weights) const {
  const Triangle& t = mesh_.triangles[triangle];
  const std::array<float, 3> w{1 - weights.x() - weights.y(), weights.x(), weights.y()};
  Vec3 position = Vec3::Zero(), outward = Vec3::Zero();
  for (size_t k = 0; k < 3; ++k) {
    position += w[k] * mesh_.positions[t[k]];
    outward += w[k] * mesh_.outward[t[k]];
  }
  outward = normalizedOr(outward, Vec3::UnitZ());
  // both begin a little on the other side, so that skin right here is met by either
  const float back = liftOf(surface_);
  const std::set<uint32_t>& hidden = hidden_[mesh_.parts[triangle]];
  Found out;
  Hit inside = facing({position + back * outward, -outward}, outward, reach_ + back, hidden);
  inside.distance = back - inside.distance;
  // what lies farther out than the skin inside is not asked for
  const float most = inside.triangle == kNone ? reach_ : std::min(reach_, std::abs(inside.distance));
  Hit outside = facing({position - back * outward, outward}, outward, most + back, hidden);
  outside.distance -= back;
  const bool takesOutside =
      outside.triangle != kNone &&
      (inside.triangle == kNone || std::abs(outside.distance) < std::abs(inside.distance));
  out.hit = takesOutside ? outside : inside;
  out.distance = out.hit.triangle == kNone ? 0 : out.hit.distance;
  return out;
}

float measuredReach(const WornMesh& mesh, const Rays& rays) {
  constexpr size_t kLooks = 20'000;
  const size_t step = std::max<size_t>(1, mesh.positions.size() / kLooks);
  std::vector<float> distances((mesh.positions.size() + step - 1) / step);
  const float most = rays.surface().bounds.diagonal();
  parallel(
      distances.size(),
      [&](size_t i) {
        const Vec3& p = mesh.positions[i * step];
        const auto near = rays.nearest(p, most);
        distances[i] = near ? (near->position - p).norm() : most;
      },
      256);
  if (distances.empty()) return 0;
  const auto at = distances.begin() + static_cast<std::ptrdiff_t>(distances.size() * 99 / 100);
  std::nth_element(distances.begin(), at, distances.end());
  return 2 * *at + rays.surface().spacing;
}

}  // namespace juvenor
