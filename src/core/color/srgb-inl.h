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

/// What, added to a float of less than 2^22 either way, leaves the nearest whole number in its low bits. A
/// third of the steps NearestInt takes, which minds what does not fit.
inline constexpr float kWholeLow = 12582912.f;  // 1.5 · 2^23
HWY_INLINE auto nearBits(V v) {
  const hn::RebindToSigned<F> di;
  return hn::BitCast(di, hn::Add(v, hn::Set(kF, kWholeLow)));
}

/// Floats 0…65535 to the nearest of 16 bits.
HWY_INLINE void store(V v, uint16_t* p) {
  const hn::Rebind<uint16_t, F> d16;
  hn::Store(hn::DemoteTo(d16, hn::Sub(nearBits(v), nearBits(hn::Zero(kF)))), d16, p);
}

/// log2 of three positive normal floats, to 5e-6: the polynomial through the Chebyshev points of √½…√2. Three
/// at a time, step by step: one alone would wait for itself.
HWY_INLINE void roughLog2(V& x, V& y, V& z) {
  const hn::RebindToSigned<F> di;
  const auto exponent = [&](V v) HWY_ATTR {
    return hn::ShiftRight<23>(hn::Sub(hn::BitCast(di, v), hn::Set(di, 0x3f3504f3)));
  };
  const auto rest = [&](V v, auto e) HWY_ATTR {
    return hn::Sub(hn::BitCast(kF, hn::Sub(hn::BitCast(di, v), hn::ShiftLeft<23>(e))), hn::Set(kF, 1.f));
  };
  const auto ex = exponent(x), ey = exponent(y), ez = exponent(z);
  const V fx = rest(x, ex), fy = rest(y, ey), fz = rest(z, ez);
  V sx = hn::Set(kF, -0.202289264f), sy = sx, sz = sx;
  for (const float c : {0.316898187f, -0.366925771f, 0.479925573f, -0.721195752f, 1.44270044f}) {
    sx = hn::MulAdd(sx, fx, hn::Set(kF, c));
    sy = hn::MulAdd(sy, fy, hn::Set(kF, c));
    sz = hn::MulAdd(sz, fz, hn::Set(kF, c));
  }
  x = hn::MulAdd(sx, fx, hn::ConvertTo(kF, ex));
  y = hn::MulAdd(sy, fy, hn::ConvertTo(kF, ey));
  z = hn::MulAdd(sz, fz, hn::ConvertTo(kF, ez));
}

/// 2 to the power of three of -120…120, to 4e-6 of the result: the polynomial through the Chebyshev points of
/// -½…½.
HWY_INLINE void roughExp2(V& x, V& y, V& z) {
  const hn::RebindToSigned<F> di;
  const auto wx = nearBits(x), wy = nearBits(y), wz = nearBits(z);
  const auto rest = [](V v, auto bits) HWY_ATTR {
    return hn::Sub(v, hn::Sub(hn::BitCast(kF, bits), hn::Set(kF, kWholeLow)));
  };
  const V rx = rest(x, wx), ry = rest(y, wy), rz = rest(z, wz);
  V sx = hn::Set(kF, 0.00966636852f), sy = sx, sz = sx;
  for (const float c : {0.0559219758f, 0.24022349f, 0.693121045f, 1.f}) {
    sx = hn::MulAdd(sx, rx, hn::Set(kF, c));
    sy = hn::MulAdd(sy, ry, hn::Set(kF, c));
    sz = hn::MulAdd(sz, rz, hn::Set(kF, c));
  }
  const auto scaled = [&](V s, auto w) HWY_ATTR {
    return hn::BitCast(kF, hn::Add(hn::BitCast(di, s), hn::ShiftLeft<23>(w)));
  };
  x = scaled(sx, wx);
  y = scaled(sy, wy);
  z = scaled(sz, wz);
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
