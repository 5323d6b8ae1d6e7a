// Oklab (Ottosson 2020) for as many samples at once as the machine's registers hold.
#include "core/layers/zones/zone_mix.h"

#include "core/color/oklab.h"
#include "core/color/oklab_matrices.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/layers/zones/zone_mix.cpp"
#include <hwy/foreach_target.h>
// foreach_target must come before highway
#include <hwy/highway.h>

#include "core/color/srgb-inl.h"

HWY_BEFORE_NAMESPACE();
namespace juvenor {
namespace HWY_NAMESPACE {

// A row of a matrix times a column.
HWY_INLINE V row(const float* m, V a, V b, V c) {
  return hn::MulAdd(hn::Set(kF, m[0]), a, hn::MulAdd(hn::Set(kF, m[1]), b, hn::Mul(hn::Set(kF, m[2]), c)));
}

HWY_INLINE V cubeRoot(V v) {
  return hn::Exp(kF, hn::Mul(hn::Set(kF, 1.f / 3), hn::Log(kF, hn::Max(v, hn::Set(kF, 1e-30f)))));
}

HWY_INLINE V cube(V v) {
  return hn::Mul(v, hn::Mul(v, v));
}

// As toOklab and fromOklab.
HWY_INLINE void intoOklab(V& x, V& y, V& z) {
  const V l = cubeRoot(row(kConesOfRgb.row[0], x, y, z)), m = cubeRoot(row(kConesOfRgb.row[1], x, y, z)),
          s = cubeRoot(row(kConesOfRgb.row[2], x, y, z));
  x = row(kLabOfCones.row[0], l, m, s);
  y = row(kLabOfCones.row[1], l, m, s);
  z = row(kLabOfCones.row[2], l, m, s);
}
HWY_INLINE void outOfOklab(V& x, V& y, V& z) {
  const V l = cube(row(kConesOfLab.row[0], x, y, z)), m = cube(row(kConesOfLab.row[1], x, y, z)),
          s = cube(row(kConesOfLab.row[2], x, y, z));
  x = row(kRgbOfCones.row[0], l, m, s);
  y = row(kRgbOfCones.row[1], l, m, s);
  z = row(kRgbOfCones.row[2], l, m, s);
}

HWY_INLINE V light(const uint16_t* p) {
  const V v = load(p);
  return hn::IfThenElseZero(hn::Gt(v, hn::Zero(kF)),
                            hn::Exp(kF, logLight(hn::Mul(v, hn::Set(kF, 1.f / 65535.f)))));
}
HWY_INLINE V encodedLight(V v) {
  const V inside = hn::Min(hn::Max(v, hn::Set(kF, 1e-9f)), hn::Set(kF, 1.f));
  return hn::Min(hn::Max(encodeLog(hn::Log(kF, inside)), hn::Zero(kF)), hn::Set(kF, 1.f));
}

void mixInLanes(const ZoneMix& mix, const ColorChunk& below, ColorChunk& out) {
  const V full = hn::Set(kF, 65535.f), one = hn::Set(kF, 1.f);
  for (size_t i = 0; i < kChunkSize; i += hn::Lanes(kF)) {
    const V weight = hn::Load(kF, &mix.weight[i]);
    const auto any = hn::Gt(weight, hn::Zero(kF));
    if (hn::AllFalse(kF, any)) continue;
    V x = light(&below.plane[0][i]), y = light(&below.plane[1][i]), z = light(&below.plane[2][i]);
    intoOklab(x, y, z);
    const V part = hn::Div(one, hn::IfThenElse(any, weight, one)), shifted = hn::Load(kF, &mix.shifted[i]);
    x = hn::Mul(part, hn::MulAdd(shifted, x, hn::Load(kF, &mix.l[i])));
    y = hn::Mul(part, hn::MulAdd(shifted, y, hn::Load(kF, &mix.a[i])));
    z = hn::Mul(part, hn::MulAdd(shifted, z, hn::Load(kF, &mix.b[i])));
    outOfOklab(x, y, z);
    const V alpha = hn::Sub(one, hn::Load(kF, &mix.open[i])),
            scale = hn::IfThenElseZero(any, hn::Mul(alpha, full));
    store(hn::Mul(encodedLight(x), scale), &out.plane[0][i]);
    store(hn::Mul(encodedLight(y), scale), &out.plane[1][i]);
    store(hn::Mul(encodedLight(z), scale), &out.plane[2][i]);
    store(scale, &out.plane[3][i]);
  }
}

}  // namespace HWY_NAMESPACE
}  // namespace juvenor
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace juvenor {

HWY_EXPORT(mixInLanes);

void addZone(ZoneMix& mix, const ZoneTint& tint, float strength, std::span<const uint32_t> samples,
             std::span<const float> weights) {
  const Oklab color = tint.plain ? toOklab(decode(tint.color)) : fromOklch({0, tint.chroma, tint.hue});
  for (size_t k = 0; k < samples.size(); ++k) {
    const float w = weights[k] * strength;
    if (!(w > 0)) continue;
    const size_t i = samples[k] % kChunkSize;
    mix.weight[i] += w;
    mix.shifted[i] += tint.plain ? 0 : w;
    mix.l[i] += w * color.l;
    mix.a[i] += w * color.a;
    mix.b[i] += w * color.b;
    mix.open[i] *= 1 - w;
  }
}

void mixedColors(const ZoneMix& mix, const ColorChunk& below, ColorChunk& out) {
  HWY_DYNAMIC_DISPATCH(mixInLanes)(mix, below, out);
}

}  // namespace juvenor
#endif
