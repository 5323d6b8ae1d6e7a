// The sRGB transfer curve (IEC 61966-2-1) on vectors, and planes of 16 bits read and written as floats. To be
// included once for each target, as Highway's own -inl.h files are.

#if defined(JUVENOR_COLOR_SRGB_INL_H) == defined(HWY_TARGET_TOGGLE)
#ifdef JUVENOR_COLOR_SRGB_INL_H
#undef JUVENOR_COLOR_SRGB_INL_H
#else
#define JUVENOR_COLOR_SRGB_INL_H
#endif

#include <hwy/contrib/math/math-inl.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace juvenor {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

using F = hn::ScalableTag<float>;
using V = hn::Vec<F>;
inline constexpr F kF;

/// 16 bits as floats 0…65535.
HWY_INLINE V load(const uint16_t* p) {
  const hn::Rebind<uint16_t, F> d16;
  const hn::RebindToSigned<F> di;
  return hn::ConvertTo(kF, hn::PromoteTo(di, hn::Load(d16, p)));
}

/// Floats 0…65535 to the nearest of 16 bits.
HWY_INLINE void store(V v, uint16_t* p) {
  const hn::Rebind<uint16_t, F> d16;
  hn::Store(hn::DemoteTo(d16, hn::NearestInt(v)), d16, p);
}

/// The logarithm of the light an encoded value 0…1 stands for; black counts as 1e-9 of white.
HWY_INLINE V logLight(V v) {
  const auto low = hn::Le(v, hn::Set(kF, 0.04045f));
  const V base = hn::IfThenElse(low, hn::Mul(v, hn::Set(kF, 1.f / 12.92f)),
                                hn::Mul(hn::Add(v, hn::Set(kF, 0.055f)), hn::Set(kF, 1.f / 1.055f)));
  const V log = hn::Log(kF, hn::Max(base, hn::Set(kF, 1e-9f)));
  return hn::IfThenElse(low, log, hn::Mul(log, hn::Set(kF, 2.4f)));
}

/// The encoded value of light given by its logarithm.
HWY_INLINE V encodeLog(V log) {
  const auto low = hn::Le(log, hn::Set(kF, -5.766466f));  // ln 0.0031308
  const V light = hn::Exp(kF, hn::IfThenElse(low, log, hn::Mul(log, hn::Set(kF, 1 / 2.4f))));
  return hn::IfThenElse(low, hn::Mul(light, hn::Set(kF, 12.92f)),
                        hn::MulSub(light, hn::Set(kF, 1.055f), hn::Set(kF, 0.055f)));
}

}  // namespace HWY_NAMESPACE
}  // namespace juvenor
HWY_AFTER_NAMESPACE();

#endif
