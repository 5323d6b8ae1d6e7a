#include "app/easel/brush_ring.h"

#include <QPainterPath>
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace juvenor::app {
namespace {

// Heights around a ring as they would be over a fold: what leaps away from its neighbours follows them (the
// median of five), and the rest is evened out.
template <size_t N>
std::array<float, N> withoutSpikes(const std::array<float, N>& heights) {
  std::array<float, N> calm, out;
  for (size_t i = 0; i < N; ++i) {
    std::array<float, 9> near;
    for (size_t k = 0; k < near.size(); ++k) near[k] = heights[(i + N + k - near.size() / 2) % N];
    std::ranges::nth_element(near, near.begin() + near.size() / 2);
    calm[i] = near[near.size() / 2];
  }
  for (size_t i = 0; i < N; ++i) out[i] = (calm[(i + N - 1) % N] + 2 * calm[i] + calm[(i + 1) % N]) / 4;
  return out;
}

}  // namespace

void BrushRing::draw(QPainter& painter, const Brush& brush, const SurfacePoint& at, bool ghost) const {
  if (!rays) return;
  const Vec3 x = at.normal.unitOrthogonal(), y = at.normal.cross(x);
  const auto ring = [&](float radius) {
    constexpr size_t kSteps = 48;
    std::array<Vec3, kSteps> rim;
    std::array<float, kSteps> heights;  // of the skin over the plane of the brush
    for (size_t i = 0; i < kSteps; ++i) {
      const float a = 2 * std::numbers::pi_v<float> * static_cast<float>(i) / kSteps;
      rim[i] = at.position + radius * (std::cos(a) * x + std::sin(a) * y);
      const float lift = 0.8f * brush.radius;
      const auto hit = rays->first({rim[i] + lift * at.normal, -at.normal}, hidden);
      heights[i] = hit && hit->distance < 1.6f * brush.radius ? lift - hit->distance : 0.f;
    }
    const std::array<float, kSteps> lies = withoutSpikes(heights);
    QPainterPath path;
    for (size_t i = 0; i <= kSteps; ++i) {
      const Vec3 p = project(viewing.camera, viewing.size, rim[i % kSteps] + lies[i % kSteps] * at.normal);
      const QPointF q = QPointF(p.x(), p.y()) / scale;
      if (i == 0)
        path.moveTo(q);
      else
        path.lineTo(q);
    }
    return path;
  };
  const auto stroke = [&](const QPainterPath& path, qreal width) {
    QPen dark(QColor(20, 20, 20, 150), width + 1.6), light(QColor(255, 255, 255, ghost ? 190 : 240), width);
    if (ghost) light.setDashPattern({4, 4});
    if (!ghost) painter.strokePath(path, dark);
    painter.strokePath(path, light);
  };
  stroke(ring(brush.radius), 1.4);
  if (!ghost && brush.hardness > 0.02f) stroke(ring(brush.radius * brush.hardness), 0.9);
}

}  // namespace juvenor::app
