#include "core/render/placement_picture.h"

#include <cmath>

namespace juvenor {

std::vector<uint32_t> placementPicture(const Rays& rays, const Placement& placement, const ViewSize& size,
                                       uint32_t background) {
  const Surface& surface = rays.surface();
  Camera camera;
  camera.turn = Eigen::Quaternionf(Eigen::Matrix3f(turnOf(placement).transpose()));
  camera = framed(camera, size, surface.bounds);
  VisibilityImage seen;
  castVisibility(rays, camera, size, {0.5f, 0.5f}, {}, seen);
  const Vec3 light = (0.4f * camera.right() + 0.9f * camera.up() + 0.8f * camera.back()).normalized();
  std::vector<uint32_t> out(seen.triangle.size(), background);
  for (size_t i = 0; i < out.size(); ++i) {
    if (seen.triangle[i] == kNone) continue;
    const Triangle& t = surface.triangles[seen.triangle[i]];
    Vec3 n =
        normalizedOr(surface.normals[t[0]] + surface.normals[t[1]] + surface.normals[t[2]], camera.back());
    if (n.dot(camera.back()) < 0) n = -n;
    const float shade = encodeSrgb(0.08f + 0.5f * std::max(0.f, n.dot(light)));
    out[i] = 0xff000000u | static_cast<uint32_t>(255 * std::min(1.f, shade)) * 0x010101u;
  }
  return out;
}

}  // namespace juvenor
