#include "core/layers/blend_chunk.h"

#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/layers/blend_chunk.cpp"
#include <hwy/foreach_target.h>
// foreach_target must come before highway
#include <hwy/highway.h>

#include "core/color/srgb-inl.h"

HWY_BEFORE_NAMESPACE();
namespace juvenor {
namespace HWY_NAMESPACE {

HWY_INLINE V hardLight(V b, V s) {
  const V two = hn::Add(s, s), one = hn::Set(kF, 1.f);
  const V m = hn::Sub(two, one);
  return hn::IfThenElse(hn::Le(s, hn::Set(kF, 0.5f)), hn::Mul(b, two), hn::NegMulAdd(b, m, hn::Add(b, m)));
}

HWY_INLINE V softLight(V b, V s) {
  const V one = hn::Set(kF, 1.f);
  const V m = hn::Sub(hn::Add(s, s), one);
  const V dark = hn::MulAdd(hn::Mul(m, b), hn::Sub(one, b), b);
  const V curve =
      hn::Mul(hn::MulAdd(hn::MulAdd(hn::Set(kF, 16.f), b, hn::Set(kF, -12.f)), b, hn::Set(kF, 4.f)), b);
  const V d = hn::IfThenElse(hn::Le(b, hn::Set(kF, 0.25f)), curve, hn::Sqrt(b));
  const V light = hn::MulAdd(m, hn::Sub(d, b), b);
  return hn::IfThenElse(hn::Le(s, hn::Set(kF, 0.5f)), dark, light);
}

// The mixing function B(backdrop, source) of the specification, channel by channel, straight values 0…1.
template <BlendMode M>
HWY_INLINE V mix(V b, V s) {
  const V one = hn::Set(kF, 1.f), zero = hn::Zero(kF);
  if constexpr (M == BlendMode::Multiply) return hn::Mul(b, s);
  if constexpr (M == BlendMode::Screen) return hn::NegMulAdd(b, s, hn::Add(b, s));
  if constexpr (M == BlendMode::Overlay) return hardLight(s, b);
  if constexpr (M == BlendMode::Darken) return hn::Min(b, s);
  if constexpr (M == BlendMode::Lighten) return hn::Max(b, s);
  if constexpr (M == BlendMode::ColorDodge) {
    const V q = hn::Min(one, hn::Div(b, hn::Max(hn::Sub(one, s), hn::Set(kF, 1e-7f))));
    return hn::IfThenElse(hn::Le(b, zero), zero, q);
  }
  if constexpr (M == BlendMode::ColorBurn) {
    const V q = hn::Sub(one, hn::Min(one, hn::Div(hn::Sub(one, b), hn::Max(s, hn::Set(kF, 1e-7f)))));
    return hn::IfThenElse(hn::Ge(b, hn::Set(kF, kFullBackdrop)), one, q);
  }
  if constexpr (M == BlendMode::HardLight) return hardLight(b, s);
  if constexpr (M == BlendMode::SoftLight) return softLight(b, s);
  if constexpr (M == BlendMode::Difference) return hn::AbsDiff(b, s);
  if constexpr (M == BlendMode::Exclusion) return hn::NegMulAdd(hn::Add(b, b), s, hn::Add(b, s));
  if constexpr (M == BlendMode::Divide) {
    const V q = hn::Min(one, hn::Div(b, hn::Max(s, hn::Set(kF, 1e-7f))));
    return hn::IfThenElse(hn::Le(b, zero), zero, q);
  }
  return s;
}

// Light that goes through a film of this depth on this backdrop, encoded; densities add (Beer-Lambert). The
// encoded curve is a power but for the darkest values, which no film has, and a power of light is one of the
// film: there the backdrop needs no logarithm.
HWY_INLINE V stained(V backdrop, V film, V depth) {
  const V offset = hn::Set(kF, 0.055f), unit = hn::Set(kF, 1.f / 1.055f);
  const auto root = [&](V v) { return hn::Mul(hn::Add(v, offset), unit); };
  const auto encoded = [&](V r) { return hn::MulSub(r, hn::Set(kF, 1.055f), offset); };
  const V darkest = hn::Set(kF, std::pow(kDarkestFilm, 1 / 2.4f));
  const V depths = hn::Mul(depth, roughLog2(hn::Max(root(film), darkest)));
  const V low = hn::Set(kF, 0.04045f), light = root(backdrop), out = hn::Mul(light, roughExp2(depths));
  const auto straight = hn::Le(backdrop, low);
  if (hn::AllFalse(kF, hn::Or(straight, hn::Le(out, root(low))))) return encoded(out);
  const V log = roughLog2(hn::Max(hn::IfThenElse(straight, hn::Mul(backdrop, hn::Set(kF, 1 / 12.92f)), light),
                                  hn::Set(kF, 1e-9f)));
  const V sum = hn::Add(depths, hn::IfThenElse(straight, hn::Mul(log, hn::Set(kF, 1 / 2.4f)), log));
  const auto dark = hn::Le(sum, hn::Set(kF, -3.466355f));  // log2 of 0.0031308, over 2.4
  const V value = roughExp2(hn::IfThenElse(dark, hn::Mul(sum, hn::Set(kF, 2.4f)), sum));
  return hn::IfThenElse(dark, hn::Mul(value, hn::Set(kF, 12.92f)), encoded(value));
}

template <BlendMode M>
void run(ColorChunk& back, const ColorChunk& source, const ScalarChunk* mask, float opacity) {
  const V full = hn::Set(kF, 65535.f), unit = hn::Set(kF, 1.f / 65535.f), one = hn::Set(kF, 1.f);
  for (size_t i = 0; i < kChunkSize; i += hn::Lanes(kF)) {
    V scale = hn::Set(kF, opacity);
    if (mask) scale = hn::Mul(scale, hn::Mul(load(&mask->plane[0][i]), unit));
    const V sourceAlpha = load(&source.plane[3][i]);
    const V as = hn::Mul(hn::Mul(sourceAlpha, unit), scale);
    if (hn::AllFalse(kF, hn::Gt(as, hn::Zero(kF)))) continue;
    const V backAlpha = load(&back.plane[3][i]);
    const V keep = hn::Sub(one, as);
    if constexpr (M == BlendMode::Normal) {
      for (int c = 0; c < 4; ++c) {
        const V s = load(&source.plane[c][i]), b = load(&back.plane[c][i]);
        store(hn::MulAdd(b, keep, hn::Mul(s, scale)), &back.plane[c][i]);
      }
    } else {
      const V ab = hn::Mul(backAlpha, unit), bare = hn::Sub(one, ab);
      const V overSource = hn::Div(one, hn::Max(sourceAlpha, one)),
              overBack = hn::Div(one, hn::Max(backAlpha, one));
      for (int c = 0; c < 3; ++c) {
        const V s = hn::Min(one, hn::Mul(load(&source.plane[c][i]), overSource));
        const V b = hn::Min(one, hn::Mul(load(&back.plane[c][i]), overBack));
        V out;
        if constexpr (M == BlendMode::Stain) {
          const V film = stained(b, s, as);
          out = hn::MulAdd(ab, hn::IfThenElse(hn::Gt(as, hn::Zero(kF)), film, b),
                           hn::Mul(hn::Mul(bare, as), s));
        } else {
          const V m = hn::MulAdd(bare, s, hn::Mul(ab, mix<M>(b, s)));
          out = hn::MulAdd(as, m, hn::Mul(keep, hn::Mul(ab, b)));
        }
        store(hn::Mul(out, full), &back.plane[c][i]);
      }
      store(hn::MulAdd(backAlpha, keep, hn::Mul(as, full)), &back.plane[3][i]);
    }
  }
}

void blendSeparable(BlendMode mode, ColorChunk& back, const ColorChunk& source, const ScalarChunk* mask,
                    float opacity) {
  switch (mode) {
#define JUVENOR_MODE(name) \
  case BlendMode::name:    \
    return run<BlendMode::name>(back, source, mask, opacity);
    JUVENOR_MODE(Normal)
    JUVENOR_MODE(Multiply)
    JUVENOR_MODE(Screen)
    JUVENOR_MODE(Overlay)
    JUVENOR_MODE(Darken)
    JUVENOR_MODE(Lighten)
    JUVENOR_MODE(ColorDodge)
    JUVENOR_MODE(ColorBurn)
    JUVENOR_MODE(HardLight)
    JUVENOR_MODE(SoftLight)
    JUVENOR_MODE(Difference)
    JUVENOR_MODE(Exclusion)
    JUVENOR_MODE(Divide)
    JUVENOR_MODE(Stain)
#undef JUVENOR_MODE
    default:
      return;
  }
}

}  // namespace HWY_NAMESPACE
}  // namespace juvenor
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace juvenor {
namespace {

HWY_EXPORT(blendSeparable);

// Hue, saturation, colour and luminosity mix the channels; they are rare and go pixel by pixel.
void blendMixed(BlendMode mode, ColorChunk& back, const ColorChunk& source, const ScalarChunk* mask,
                float opacity) {
  for (size_t i = 0; i < kChunkSize; ++i) {
    const Rgba16 s = sampleOf(source, i), b = sampleOf(back, i);
    const float scale = opacity * (mask ? from16(mask->plane[0][i]) : 1.f);
    const Pixel out =
        blend(mode, {from16(b.r), from16(b.g), from16(b.b), from16(b.a)},
              {from16(s.r) * scale, from16(s.g) * scale, from16(s.b) * scale, from16(s.a) * scale});
    setSample(back, i, {to16(out.r), to16(out.g), to16(out.b), to16(out.a)});
  }
}

}  // namespace

void blendChunk(BlendMode mode, ColorChunk& backdrop, const ColorChunk& source, const ScalarChunk* mask,
                float opacity) {
  if (isSeparable(mode) || mode == BlendMode::Stain)
    HWY_DYNAMIC_DISPATCH(blendSeparable)(mode, backdrop, source, mask, opacity);
  else
    blendMixed(mode, backdrop, source, mask, opacity);
}

}  // namespace juvenor
#endif
