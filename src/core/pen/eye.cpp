#include "core/pen/eye.h"

#include <cmath>

namespace juvenor {
namespace {

// Two edges of a triangle from its first corner.
std::pair<Vec3, Vec3> edgesOf(const Surface& surface, uint32_t triangle) {
  const Triangle& t = surface.triangles[triangle];
  const Vec3& first = surface.positions[t[0]];
  return {surface.positions[t[1]] - first, surface.positions[t[2]] - first};
}

}  // namespace

std::optional<Hit> Eye::hitAt(const Vec2& pixel) const {
  return (sheet ? sheet : skin)->first(rayThrough(camera, size, pixel), hidden);
}

SurfacePoint Eye::placeOf(const Hit& hit, const Vec2& pixel) const {
  SurfacePoint out = skin->pointOf(hit, -rayThrough(camera, size, pixel).direction);
  if (sheet) out.toViewer = out.normal;
  return out;
}

std::optional<SurfacePoint> Eye::placeAt(const Vec2& pixel) const {
  const auto hit = hitAt(pixel);
  return hit ? std::optional(placeOf(*hit, pixel)) : std::nullopt;
}

float Eye::pixelsPerUnit(const SurfacePoint& at) const {
  const float scale = juvenor::pixelsPerUnit(camera, size, at.position);
  if (!sheet) return scale;
  const auto [a, b] = edgesOf(skin->surface(), at.triangle);
  const auto [u, v] = edgesOf(sheet->surface(), at.triangle);
  const float area = a.cross(b).norm(), flat = u.cross(v).norm();
  return area > 0 && flat > 0 ? scale * std::sqrt(flat / area) : scale;
}

Vec3 Eye::along(const SurfacePoint& at, const Vec2& way) const {
  if (!sheet) return way.x() * camera.right() - way.y() * camera.up();
  const auto [a, b] = edgesOf(skin->surface(), at.triangle);
  const auto [u, v] = edgesOf(sheet->surface(), at.triangle);
  const float whole = u.x() * v.y() - u.y() * v.x();
  if (whole == 0) return Vec3::Zero();
  const float x = way.x(), y = -way.y();
  const Vec3 out = ((x * v.y() - y * v.x()) * a + (y * u.x() - x * u.y()) * b) / whole;
  return way.norm() * normalizedOr(out, Vec3::Zero());
}

}  // namespace juvenor
