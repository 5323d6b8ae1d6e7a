#include "core/textures/uv_stretch.h"

#include <cmath>

namespace juvenor {

TriangleStretch stretchOf(const std::array<Vec3, 3>& points, const std::array<Vec2, 3>& uv, double area) {
  const Eigen::Vector3d q1 = points[0].cast<double>(), q2 = points[1].cast<double>(),
                        q3 = points[2].cast<double>();
  const auto u = [&](size_t k) { return static_cast<double>(uv[k].x()); };
  const auto v = [&](size_t k) { return static_cast<double>(uv[k].y()); };
  const Eigen::Vector3d along = (q1 * (v(1) - v(2)) + q2 * (v(2) - v(0)) + q3 * (v(0) - v(1))) / (2 * area);
  const Eigen::Vector3d up = (q1 * (u(2) - u(1)) + q2 * (u(0) - u(2)) + q3 * (u(1) - u(0))) / (2 * area);
  const double a = along.squaredNorm(), b = along.dot(up), c = up.squaredNorm();
  return {0.5 * (a + c + std::sqrt((a - c) * (a - c) + 4 * b * b)), 0.5 * (a + c)};
}

LayoutStretch stretchOf(std::span<const Vec3> positions, std::span<const Triangle> triangles,
                        std::span<const std::array<Vec2, 3>> corners) {
  double skin = 0, flat = 0, sum = 0;
  for (size_t t = 0; t < triangles.size(); ++t) {
    const auto& uv = corners[t];
    const Eigen::Vector2d a = (uv[1] - uv[0]).cast<double>(), b = (uv[2] - uv[0]).cast<double>();
    const double area = 0.5 * (a.x() * b.y() - a.y() * b.x());
    if (!(std::abs(area) > 1e-15)) continue;
    const std::array<Vec3, 3> points{positions[triangles[t][0]], positions[triangles[t][1]],
                                     positions[triangles[t][2]]};
    const double own =
        0.5 * (points[1] - points[0]).cast<double>().cross((points[2] - points[0]).cast<double>()).norm();
    skin += own;
    flat += std::abs(area);
    sum += own * stretchOf(points, uv, area).mean2;
  }
  if (!(skin > 0)) return {};
  return {static_cast<float>(std::sqrt(sum / skin * (flat / skin))), flat};
}

}  // namespace juvenor
