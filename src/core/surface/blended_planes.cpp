#include "core/surface/blended_planes.h"

#include <Eigen/Cholesky>

#include "core/parallel.h"

namespace juvenor {

BlendedPlanes::BlendedPlanes(const SkinGraph& graph, float cell, std::vector<float> values, float steepest)
    : graph_(graph),
      values_(std::move(values)),
      slopes_(graph.size(), Vec3::Zero()),
      narrow_(1 / (kPlaneReach * kPlaneReach * cell * cell)) {
  parallel(
      graph.size(),
      [&](size_t n) {
        if (values_[n] == kNothing) return;
        const Vec3 slope = slopeAt(n);
        slopes_[n] = slope * std::min(1.f, steepest / std::max(slope.norm(), 1e-30f));
      },
      512);
}

Vec3 BlendedPlanes::slopeAt(size_t node) const {
  Eigen::Matrix3f spread = Eigen::Matrix3f::Zero();
  Vec3 rise = Vec3::Zero();
  for (uint32_t e = graph_.start[node]; e < graph_.start[node + 1]; ++e) {
    const uint32_t m = graph_.neighbors[e];
    if (values_[m] == kNothing) continue;
    const Vec3 step = graph_.positions[m] - graph_.positions[node];
    spread += step * step.transpose();
    rise += (values_[m] - values_[node]) * step;
  }
  const float size = spread.trace();
  if (!(size > 0)) return Vec3::Zero();
  // all lie about in a plane: across it the slope is nothing
  spread.diagonal().array() += 1e-3f * size;
  return spread.ldlt().solve(rise);
}

float BlendedPlanes::at(uint32_t node, const Vec3& place) const {
  if (values_[node] == kNothing) return kNothing;
  float weights = 0, sum = 0;
  const auto add = [&](uint32_t n) {
    const Vec3 step = place - graph_.positions[n];
    const float fade = 1 - narrow_ * step.squaredNorm();
    if (fade <= 0 || values_[n] == kNothing) return;
    weights += fade * fade;
    sum += fade * fade * (values_[n] + slopes_[n].dot(step));
  };
  add(node);
  for (uint32_t e = graph_.start[node]; e < graph_.start[node + 1]; ++e) add(graph_.neighbors[e]);
  return weights > 0 ? sum / weights : values_[node];
}

}  // namespace juvenor
