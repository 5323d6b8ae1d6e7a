#include "core/surface/graph/blended_planes.h"

#include <algorithm>
#include <array>

#include "core/parallel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/surface/graph/blended_planes.cpp"
#include <hwy/foreach_target.h>
// foreach_target must come before highway
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace juvenor {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

// As many places at once as a register holds.
void blend(std::span<const BlendedPlanes::Plane> planes, uint32_t node, std::span<const uint32_t> around,
           float narrow, std::span<const uint32_t> members, std::span<const Vec3> places,
           std::span<float> out) {
  constexpr size_t kMost = 16;
  const hn::CappedTag<float, kMost> d;
  const size_t lanes = hn::Lanes(d);
  alignas(64) std::array<float, kMost> x, y, z;
  for (size_t first = 0; first < members.size(); first += lanes) {
    const auto run = members.subspan(first, std::min(lanes, members.size() - first));
    for (size_t i = 0; i < lanes; ++i) {
      const Vec3& p = places[run[std::min(i, run.size() - 1)]];
      x[i] = p.x();
      y[i] = p.y();
      z[i] = p.z();
    }
    const auto px = hn::Load(d, x.data()), py = hn::Load(d, y.data()), pz = hn::Load(d, z.data());
    auto weights = hn::Zero(d), sums = hn::Zero(d);
    const auto add = [&](const BlendedPlanes::Plane& p) {
      const auto dx = hn::Sub(px, hn::Set(d, p.position.x())), dy = hn::Sub(py, hn::Set(d, p.position.y())),
                 dz = hn::Sub(pz, hn::Set(d, p.position.z()));
      const auto far = hn::MulAdd(dx, dx, hn::MulAdd(dy, dy, hn::Mul(dz, dz)));
      const auto fade = hn::Max(hn::Zero(d), hn::NegMulAdd(hn::Set(d, narrow), far, hn::Set(d, 1.f)));
      const auto weight = hn::Mul(fade, fade);
      const auto level = hn::MulAdd(hn::Set(d, p.slope.x()), dx, hn::Set(d, p.value));
      const auto value =
          hn::MulAdd(hn::Set(d, p.slope.y()), dy, hn::MulAdd(hn::Set(d, p.slope.z()), dz, level));
      weights = hn::Add(weights, weight);
      sums = hn::MulAdd(weight, value, sums);
    };
    add(planes[node]);
    for (const uint32_t n : around)
      if (planes[n].value != BlendedPlanes::kNothing) add(planes[n]);
    const auto any = hn::Gt(weights, hn::Zero(d));
    hn::Store(hn::IfThenElse(any, hn::Div(sums, hn::IfThenElse(any, weights, hn::Set(d, 1.f))),
                             hn::Set(d, planes[node].value)),
              d, x.data());
    for (size_t i = 0; i < run.size(); ++i) out[run[i]] = x[i];
  }
}

}  // namespace HWY_NAMESPACE
}  // namespace juvenor
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace juvenor {

HWY_EXPORT(blend);

BlendedPlanes::BlendedPlanes(const SkinGraph& graph, float cell, std::span<const float> values,
                             float steepest)
    : graph_(graph), planes_(graph.size()), narrow_(1 / (kPlaneReach * kPlaneReach * cell * cell)) {
  parallel(planes_.size(), [&](size_t n) { planes_[n] = {graph.positions[n], Vec3::Zero(), values[n]}; });
  parallel(
      planes_.size(),
      [&](size_t n) {
        if (planes_[n].value == kNothing) return;
        const Vec3 slope = slopeAt(n);
        planes_[n].slope = slope * std::min(1.f, steepest / std::max(slope.norm(), 1e-30f));
      },
      512);
}

Vec3 BlendedPlanes::slopeAt(size_t node) const {
  // the upper triangle of a symmetric matrix, by rows
  std::array<float, 6> m{};
  Vec3 rise = Vec3::Zero();
  for (uint32_t e = graph_.start[node]; e < graph_.start[node + 1]; ++e) {
    const Plane& there = planes_[graph_.neighbors[e]];
    if (there.value == kNothing) continue;
    const Vec3 step = there.position - planes_[node].position;
    m[0] += step.x() * step.x();
    m[1] += step.x() * step.y();
    m[2] += step.x() * step.z();
    m[3] += step.y() * step.y();
    m[4] += step.y() * step.z();
    m[5] += step.z() * step.z();
    rise += (there.value - planes_[node].value) * step;
  }
  const float size = m[0] + m[3] + m[5];
  if (!(size > 0)) return Vec3::Zero();
  // all lie about in a plane: across it the slope is nothing
  for (const int i : {0, 3, 5}) m[i] += 1e-3f * size;
  const Vec3 first(m[3] * m[5] - m[4] * m[4], m[2] * m[4] - m[1] * m[5], m[1] * m[4] - m[2] * m[3]),
      second(first.y(), m[0] * m[5] - m[2] * m[2], m[1] * m[2] - m[0] * m[4]),
      third(first.z(), second.z(), m[0] * m[3] - m[1] * m[1]);
  const float determinant = m[0] * first.x() + m[1] * first.y() + m[2] * first.z();
  return Vec3(first.dot(rise), second.dot(rise), third.dot(rise)) / determinant;
}

void BlendedPlanes::at(uint32_t node, std::span<const uint32_t> members, std::span<const Vec3> places,
                       std::span<float> out) const {
  const std::span around(graph_.neighbors.data() + graph_.start[node],
                         graph_.start[node + 1] - graph_.start[node]);
  HWY_DYNAMIC_DISPATCH(blend)(planes_, node, around, narrow_, members, places, out);
}

}  // namespace juvenor
#endif
