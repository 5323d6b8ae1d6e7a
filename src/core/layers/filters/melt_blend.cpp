// Several nodes of a row at once.
#include "core/layers/filters/melt_blend.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/layers/filters/melt_blend.cpp"
#include <hwy/foreach_target.h>
// foreach_target must come before highway
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace juvenor {
namespace HWY_NAMESPACE {
namespace hb = hwy::HWY_NAMESPACE;

// no more than divides a row
using BlendLanes = hb::CappedTag<float, 8>;
static_assert(kMostBlends % 8 == 0);

void blendInLanes(std::span<const BlendRow> rows, std::span<const uint32_t> rowOf, const Vec3* places,
                  float perReach2, ColorChunk& out) {
  constexpr BlendLanes kLanes;
  const auto one = hb::Set(kLanes, 1.f), none = hb::Zero(kLanes), scale = hb::Set(kLanes, perReach2);
  for (size_t s = 0; s < rowOf.size(); ++s) {
    const BlendRow& row = rows[rowOf[s]];
    const auto x = hb::Set(kLanes, places[s].x()), y = hb::Set(kLanes, places[s].y()),
               z = hb::Set(kLanes, places[s].z());
    auto all = none, red = none, green = none, blue = none;
    for (size_t k = 0; k < kMostBlends; k += hb::Lanes(kLanes)) {
      const auto dx = hb::Sub(hb::LoadU(kLanes, &row.at[0][k]), x),
                 dy = hb::Sub(hb::LoadU(kLanes, &row.at[1][k]), y),
                 dz = hb::Sub(hb::LoadU(kLanes, &row.at[2][k]), z);
      const auto far2 = hb::MulAdd(dx, dx, hb::MulAdd(dy, dy, hb::Mul(dz, dz)));
      const auto near = hb::Max(hb::NegMulAdd(far2, scale, one), none);
      const auto weight = hb::Mul(near, near);
      all = hb::Add(all, weight);
      red = hb::MulAdd(weight, hb::LoadU(kLanes, &row.tone[0][k]), red);
      green = hb::MulAdd(weight, hb::LoadU(kLanes, &row.tone[1][k]), green);
      blue = hb::MulAdd(weight, hb::LoadU(kLanes, &row.tone[2][k]), blue);
    }
    constexpr float kOwn = 1e-3f;
    const float share = 1 / (hb::GetLane(hb::SumOfLanes(kLanes, all)) + kOwn);
    const float sums[3] = {hb::GetLane(hb::SumOfLanes(kLanes, red)),
                           hb::GetLane(hb::SumOfLanes(kLanes, green)),
                           hb::GetLane(hb::SumOfLanes(kLanes, blue))};
    for (size_t p = 0; p < 3; ++p) {
      const float tone = (sums[p] + kOwn * row.tone[p][0]) * share + 0.5f;
      out.plane[p][s] = static_cast<uint16_t>(tone > 0 ? (tone < 65535 ? tone : 65535) : 0);
    }
    out.plane[3][s] = 65535;
  }
}

}  // namespace HWY_NAMESPACE
}  // namespace juvenor
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace juvenor {

HWY_EXPORT(blendInLanes);

void blendAround(std::span<const BlendRow> rows, std::span<const uint32_t> rowOf, const Vec3* places,
                 float perReach2, ColorChunk& out) {
  HWY_DYNAMIC_DISPATCH(blendInLanes)(rows, rowOf, places, perReach2, out);
}

}  // namespace juvenor
#endif
