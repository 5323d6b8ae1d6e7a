// Oklab (Ottosson 2020) for as many samples at once as the machine's registers hold.
#include "core/layers/zone_mix.h"

#include "core/color/oklab.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/layers/zone_mix.cpp"
#include <hwy/foreach_target.h>
// foreach_target must come before highway
#include <hwy/highway.h>

#include "core/color/srgb-inl.h"

HWY_BEFORE_NAMESPACE();
namespace juvenor {
namespace HWY_NAMESPACE {

// The row (x, y, z) of a matrix times a column.
HWY_INLINE V row(float x, V a, float y, V b, float z, V c) {
  return hn::MulAdd(hn::Set(kF, x), a, hn::MulAdd(hn::Set(kF, y), b, hn::Mul(hn::Set(kF, z), c)));
}

HWY_INLINE V cubeRoot(V v) {
  return hn::Exp(kF, hn::Mul(hn::Set(kF, 1.f / 3), hn::Log(kF, hn::Max(v, hn::Set(kF, 1e-30f)))));
}

HWY_INLINE V cube(V v) {
  return hn::Mul(v, hn::Mul(v, v));
}

// As toOklab and fromOklab.
HWY_INLINE void intoOklab(V& x, V& y, V& z) {
  const V l = cubeRoot(row(0.4122214708f, x, 0.5363325363f, y, 0.0514459929f, z));
  const V m = cubeRoot(row(0.2119034982f, x, 0.6806995451f, y, 0.1073969566f, z));
  const V s = cubeRoot(row(0.0883024619f, x, 0.2817188376f, y, 0.6299787005f, z));
  x = row(0.2104542553f, l, 0.7936177850f, m, -0.0040720468f, s);
  y = row(1.9779984951f, l, -2.4285922050f, m, 0.4505937099f, s);
  z = row(0.0259040371f, l, 0.7827717662f, m, -0.8086757660f, s);
}
HWY_INLINE void outOfOklab(V& x, V& y, V& z) {
  const V l = cube(row(1.f, x, 0.3963377774f, y, 0.2158037573f, z));
  const V m = cube(row(1.f, x, -0.1055613458f, y, -0.0638541728f, z));
  const V s = cube(row(1.f, x, -0.0894841775f, y, -1.2914855480f, z));
  x = row(4.0767416621f, l, -3.3077115913f, m, 0.2309699292f, s);
  y = row(-1.2684380046f, l, 2.6097574011f, m, -0.3413193965f, s);
  z = row(-0.0041960863f, l, -0.7034186147f, m, 1.7076147010f, s);
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
