#include "core/layers/composite/blend_chunk.h"

#include <cmath>

#include "core/layers/composite/tint_chunk.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/layers/composite/blend_chunk.cpp"
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

// Three channels, encoded 0…1.
struct Triple {
  V r, g, b;
};

template <class F3>
HWY_INLINE Triple each(const Triple& v, F3 f) {
  return {f(v.r), f(v.g), f(v.b)};
}
template <class F3>
HWY_INLINE Triple each(const Triple& v, const Triple& w, F3 f) {
  return {f(v.r, w.r), f(v.g, w.g), f(v.b, w.b)};
}

HWY_INLINE V rootOfLight(V encoded) {
  return hn::MulAdd(encoded, hn::Set(kF, 1 / 1.055f), hn::Set(kF, 0.055f / 1.055f));
}
HWY_INLINE V encodedRoot(V root) {
  return hn::MulSub(root, hn::Set(kF, 1.055f), hn::Set(kF, 0.055f));
}

// What `stained` says where the backdrop or what comes out is so dark that the encoded curve is straight.
HWY_NOINLINE Triple stainedDarkly(const Triple& backdrop, const Triple& depths) {
  const V third = hn::Set(kF, 1 / 2.4f);
  Triple log = each(backdrop, [](V b) HWY_ATTR {
    const V light = hn::Mul(b, hn::Set(kF, 1 / 12.92f));
    return hn::Max(hn::IfThenElse(hn::Le(b, hn::Set(kF, 0.04045f)), light, rootOfLight(b)),
                   hn::Set(kF, 1e-9f));
  });
  roughLog2(log.r, log.g, log.b);
  log = each(log, backdrop, [&](V l, V b) HWY_ATTR {
    return hn::IfThenElse(hn::Le(b, hn::Set(kF, 0.04045f)), hn::Mul(l, third), l);
  });
  const Triple sum = each(log, depths, [](V l, V d) HWY_ATTR { return hn::Add(l, d); });
  const V straight = hn::Set(kF, -3.466355f);  // log2 of 0.0031308, over 2.4
  Triple light = each(sum, [&](V s) HWY_ATTR {
    return hn::IfThenElse(hn::Le(s, straight), hn::Mul(s, hn::Set(kF, 2.4f)), s);
  });
  roughExp2(light.r, light.g, light.b);
  return each(light, sum, [&](V l, V s) HWY_ATTR {
    return hn::IfThenElse(hn::Le(s, straight), hn::Mul(l, hn::Set(kF, 12.92f)), encodedRoot(l));
  });
}

// Light that goes through a film of this depth on this backdrop, encoded; densities add (Beer-Lambert). The
// encoded curve is a power but for the darkest values, which no film has, and a power of light is one of the
// film: there the backdrop needs no logarithm.
HWY_INLINE Triple stained(const Triple& backdrop, const Triple& film, V depth) {
  const V darkest = hn::Set(kF, std::pow(kDarkestFilm, 1 / 2.4f));
  Triple depths = each(film, [&](V s) HWY_ATTR { return hn::Max(rootOfLight(s), darkest); });
  roughLog2(depths.r, depths.g, depths.b);
  depths = each(depths, [&](V d) HWY_ATTR { return hn::Mul(d, depth); });
  Triple through = depths;
  roughExp2(through.r, through.g, through.b);
  const Triple out = each(backdrop, through, [](V b, V t) HWY_ATTR { return hn::Mul(rootOfLight(b), t); });
  const auto least = [](const Triple& v) HWY_ATTR { return hn::Min(v.r, hn::Min(v.g, v.b)); };
  const V low = hn::Set(kF, 0.04045f);
  if (hn::AllTrue(kF, hn::And(hn::Gt(least(backdrop), low), hn::Gt(least(out), rootOfLight(low)))))
    return each(out, [](V v) HWY_ATTR { return encodedRoot(v); });
  return stainedDarkly(backdrop, depths);
}

// 1 / v to the last bit or two: the processor's estimate and a step of Newton's, a third of a division's
// time.
HWY_INLINE V reciprocal(V v) {
  const V rough = hn::ApproximateReciprocal(v);
  return hn::Mul(rough, hn::NegMulAdd(v, rough, hn::Set(kF, 2.f)));
}

// The four modes of the W3C that mix the channels (section 10.2): the backdrop or the source with the
// luminosity or saturation of the other.
template <BlendMode M>
constexpr bool kMixesChannels =
    M == BlendMode::Hue || M == BlendMode::Saturation || M == BlendMode::Color || M == BlendMode::Luminosity;

HWY_INLINE V leastOf(const Triple& c) {
  return hn::Min(c.r, hn::Min(c.g, c.b));
}

HWY_INLINE V mostOf(const Triple& c) {
  return hn::Max(c.r, hn::Max(c.g, c.b));
}

HWY_INLINE V luminosityOf(const Triple& c) {
  return hn::MulAdd(hn::Set(kF, 0.3f), c.r,
                    hn::MulAdd(hn::Set(kF, 0.59f), c.g, hn::Mul(hn::Set(kF, 0.11f), c.b)));
}

HWY_INLINE Triple withLuminosity(const Triple& given, V luminosity) {
  const V zero = hn::Zero(kF), one = hn::Set(kF, 1.f), tiny = hn::Set(kF, 1e-9f);
  const V more = hn::Sub(luminosity, luminosityOf(given));
  const Triple c = each(given, [&](V v) HWY_ATTR { return hn::Add(v, more); });
  const V l = luminosityOf(c), low = leastOf(c), high = mostOf(c);
  const auto under = hn::Lt(low, zero), over = hn::Gt(high, one);
  const V up = hn::Div(l, hn::Max(hn::Sub(l, low), tiny)),
          down = hn::Div(hn::Sub(one, l), hn::Max(hn::Sub(high, l), tiny));
  return each(c, [&](V v) HWY_ATTR {
    v = hn::IfThenElse(under, hn::MulAdd(hn::Sub(v, l), up, l), v);
    return hn::IfThenElse(over, hn::MulAdd(hn::Sub(v, l), down, l), v);
  });
}

HWY_INLINE Triple withSaturation(const Triple& c, V saturation) {
  const V low = leastOf(c), range = hn::Sub(mostOf(c), low);
  const V scale = hn::IfThenElseZero(hn::Gt(range, hn::Zero(kF)),
                                     hn::Div(saturation, hn::Max(range, hn::Set(kF, 1e-9f))));
  return each(c, [&](V v) HWY_ATTR { return hn::Mul(hn::Sub(v, low), scale); });
}

template <BlendMode M>
HWY_INLINE Triple mixedChannels(const Triple& b, const Triple& s) {
  const auto saturationOf = [](const Triple& c) HWY_ATTR { return hn::Sub(mostOf(c), leastOf(c)); };
  if constexpr (M == BlendMode::Hue)
    return withLuminosity(withSaturation(s, saturationOf(b)), luminosityOf(b));
  else if constexpr (M == BlendMode::Saturation)
    return withLuminosity(withSaturation(b, saturationOf(s)), luminosityOf(b));
  else if constexpr (M == BlendMode::Color)
    return withLuminosity(s, luminosityOf(b));
  else
    return withLuminosity(b, luminosityOf(s));
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
      const V overSource = reciprocal(hn::Max(sourceAlpha, one)),
              overBack = reciprocal(hn::Max(backAlpha, one));
      const auto straight = [](const ColorChunk& chunk, size_t c, size_t at, V over) HWY_ATTR {
        return hn::Min(hn::Set(kF, 1.f), hn::Mul(load(&chunk.plane[c][at]), over));
      };
      const Triple s{straight(source, 0, i, overSource), straight(source, 1, i, overSource),
                     straight(source, 2, i, overSource)};
      const Triple b{straight(back, 0, i, overBack), straight(back, 1, i, overBack),
                     straight(back, 2, i, overBack)};
      Triple out;
      if constexpr (M == BlendMode::Stain) {
        const V film = hn::Mul(bare, as);
        out = each(stained(b, s, as), s,
                   [&](V v, V t) HWY_ATTR { return hn::MulAdd(ab, v, hn::Mul(film, t)); });
      } else if constexpr (kMixesChannels<M>) {
        const Triple m = each(mixedChannels<M>(b, s), s, [&](V v, V t) HWY_ATTR {
          return hn::Mul(as, hn::MulAdd(bare, t, hn::Mul(ab, v)));
        });
        out = each(m, b, [&](V v, V w) HWY_ATTR { return hn::MulAdd(keep, hn::Mul(ab, w), v); });
      } else {
        out = each(b, s, [&](V v, V t) HWY_ATTR {
          const V m = hn::MulAdd(bare, t, hn::Mul(ab, mix<M>(v, t)));
          return hn::MulAdd(as, m, hn::Mul(keep, hn::Mul(ab, v)));
        });
      }
      store(hn::Mul(out.r, full), &back.plane[0][i]);
      store(hn::Mul(out.g, full), &back.plane[1][i]);
      store(hn::Mul(out.b, full), &back.plane[2][i]);
      store(hn::MulAdd(backAlpha, keep, hn::Mul(as, full)), &back.plane[3][i]);
    }
  }
}

void blendInLanes(BlendMode mode, ColorChunk& back, const ColorChunk& source, const ScalarChunk* mask,
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
    JUVENOR_MODE(Hue)
    JUVENOR_MODE(Saturation)
    JUVENOR_MODE(Color)
    JUVENOR_MODE(Luminosity)
    JUVENOR_MODE(Divide)
    JUVENOR_MODE(Stain)
#undef JUVENOR_MODE
    // by the table of skin (tint_chunk.h)
    case BlendMode::Blood:
    case BlendMode::Melanin:
    case BlendMode::Yellow:
    case BlendMode::LiftBlood:
    case BlendMode::LiftMelanin:
    case BlendMode::LiftYellow:
      return;
  }
}

}  // namespace HWY_NAMESPACE
}  // namespace juvenor
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace juvenor {
HWY_EXPORT(blendInLanes);

void blendChunk(BlendMode mode, ColorChunk& backdrop, const ColorChunk& source, const ScalarChunk* mask,
                float opacity) {
  if (!isSkinTint(mode)) return HWY_DYNAMIC_DISPATCH(blendInLanes)(mode, backdrop, source, mask, opacity);
  TintAmounts amounts{mode};
  addTint(amounts, source, mask, opacity);
  tintChunk(amounts, backdrop);
}

}  // namespace juvenor
#endif
