#include "core/render/shine_places.h"

#include <algorithm>
#include <cmath>

#include "core/render/aperture.h"
#include "core/render/shine.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/render/shine_places.cpp"
#include <hwy/foreach_target.h>
// foreach_target must come before highway
#include <hwy/highway.h>

#include "core/color/srgb-inl.h"

#ifndef JUVENOR_SHINE_PLACES_ONCE
#define JUVENOR_SHINE_PLACES_ONCE
namespace juvenor {
namespace {

// A lamp with what all places ask of it.
struct Disc {
  Vec3 toward, strength;
  float spread, cosHalf, sinHalf;
  const float* seen;
};

}  // namespace
}  // namespace juvenor
#endif

HWY_BEFORE_NAMESPACE();
namespace juvenor {
namespace HWY_NAMESPACE {

struct V3 {
  V x, y, z;
};

HWY_INLINE V number(float v) {
  return hn::Set(kF, v);
}
HWY_INLINE V3 loaded(const ShinePlaces::Vectors& of, size_t at) {
  return {hn::LoadU(kF, &of[0][at]), hn::LoadU(kF, &of[1][at]), hn::LoadU(kF, &of[2][at])};
}
HWY_INLINE void put(const V3& v, ShinePlaces::Vectors& to, size_t at) {
  hn::StoreU(v.x, kF, &to[0][at]);
  hn::StoreU(v.y, kF, &to[1][at]);
  hn::StoreU(v.z, kF, &to[2][at]);
}
HWY_INLINE V3 same(const Vec3& v) {
  return {number(v.x()), number(v.y()), number(v.z())};
}
HWY_INLINE V dot(const V3& a, const V3& b) {
  return hn::MulAdd(a.x, b.x, hn::MulAdd(a.y, b.y, hn::Mul(a.z, b.z)));
}
// a · s + b
HWY_INLINE V3 along(const V3& a, V s, const V3& b) {
  return {hn::MulAdd(a.x, s, b.x), hn::MulAdd(a.y, s, b.y), hn::MulAdd(a.z, s, b.z)};
}
HWY_INLINE V3 times(const V3& a, const V3& b) {
  return {hn::Mul(a.x, b.x), hn::Mul(a.y, b.y), hn::Mul(a.z, b.z)};
}
HWY_INLINE V3 times(const V3& a, V s) {
  return {hn::Mul(a.x, s), hn::Mul(a.y, s), hn::Mul(a.z, s)};
}
HWY_INLINE V3 chosen(hn::Mask<F> first, const V3& a, const V3& b) {
  return {hn::IfThenElse(first, a.x, b.x), hn::IfThenElse(first, a.y, b.y), hn::IfThenElse(first, a.z, b.z)};
}
HWY_INLINE V within(V v, float low, float high) {
  return hn::Min(hn::Max(v, number(low)), number(high));
}
HWY_INLINE V squared(V v) {
  return hn::Mul(v, v);
}

// As reflected() of shine.h.
struct Reflected {
  V scale, offset;
};
HWY_INLINE Reflected reflectedBy(std::span<const float> table, V cosOut, V width) {
  const hn::RebindToSigned<F> di;
  constexpr int kAcross = kReflectedCosines, kDown = kReflectedWidths;
  const V x = within(hn::Mul(cosOut, number(kAcross - 1)), 0, kAcross - 1.001f),
          y = within(hn::Mul(hn::Sqrt(width), number(kDown - 1)), 0, kDown - 1.001f);
  const V x0 = hn::Floor(x), y0 = hn::Floor(y), fx = hn::Sub(x, x0), fy = hn::Sub(y, y0);
  const auto at = hn::ShiftLeft<1>(hn::ConvertTo(di, hn::MulAdd(y0, number(kAcross), x0)));
  const auto mean = [&](int of) HWY_ATTR {
    const float* from = table.data() + of;
    const V a = hn::GatherIndex(kF, from, at), b = hn::GatherIndex(kF, from + 2, at),
            c = hn::GatherIndex(kF, from + 2 * kAcross, at),
            d = hn::GatherIndex(kF, from + 2 * kAcross + 2, at);
    const V upper = hn::MulAdd(fx, hn::Sub(b, a), a), lower = hn::MulAdd(fx, hn::Sub(d, c), c);
    return hn::MulAdd(fy, hn::Sub(lower, upper), upper);
  };
  return {mean(0), mean(1)};
}

// As angleOf() of aperture.cpp.
HWY_INLINE V angleOf(V cosine) {
  const V x = hn::Min(number(1), hn::Abs(cosine));
  V p = hn::MulAdd(x, number(-0.0187293f), number(0.0742610f));
  p = hn::MulAdd(x, p, number(-0.2121144f));
  p = hn::MulAdd(x, p, number(1.5707288f));
  const V angle = hn::Mul(hn::Sqrt(hn::Sub(number(1), x)), p);
  return hn::IfThenElse(hn::Lt(cosine, hn::Zero(kF)), hn::Sub(number(3.1415927f), angle), angle);
}

struct Caps {
  V angle, cosine;
};
HWY_INLINE V shared(const Caps& a, const Caps& b, V apart) {
  const V small = hn::Min(a.angle, b.angle), large = hn::Max(a.angle, b.angle),
          whole = hn::Sub(number(1), hn::Max(a.cosine, b.cosine)), inside = hn::Sub(large, small);
  const V t =
      hn::Sub(number(1), hn::Div(hn::Sub(apart, inside), hn::Max(number(1e-4f), hn::Add(small, small))));
  const V part = hn::Mul(whole, hn::Mul(squared(t), hn::NegMulAdd(number(2), t, number(3))));
  const V some = hn::IfThenZeroElse(hn::Ge(apart, hn::Add(large, small)), part);
  return hn::IfThenElse(hn::Le(apart, inside), whole, some);
}

// As mirroredThrough() of aperture.h, one where all is open.
HWY_INLINE V throughAperture(std::span<const float> caps, V open, V towardMirror, V normalMirror, V width) {
  const hn::RebindToSigned<F> di;
  const float last = static_cast<float>(caps.size() / 2 - 1);
  const V root = hn::Sqrt(within(width, 0, 1));
  const auto at = hn::ShiftLeft<1>(hn::ConvertTo(di, hn::MulAdd(root, number(last), number(0.5f))));
  const Caps lobe{hn::GatherIndex(kF, caps.data(), at), hn::GatherIndex(kF, caps.data() + 1, at)};
  const V edge = hn::Sqrt(hn::Sub(number(1), within(open, 0, 1)));
  const V seen = shared({angleOf(edge), edge}, lobe, angleOf(towardMirror));
  const V all = shared({number(1.5707963f), hn::Zero(kF)}, lobe, angleOf(normalMirror));
  const V part = within(hn::Div(seen, hn::Max(number(1e-4f), all)), 0, 1);
  return hn::IfThenElse(hn::Ge(open, number(1)), number(1), part);
}

// Places with what both lobes ask.
struct Looks {
  V3 bent, toViewer, mirror;
  V bentViewer, cosOut;
};

// As mirroredDisc() of shine.h, by the reflectance and how much of the lamp is seen.
HWY_INLINE V3 addedLamp(const Disc& lamp, const Looks& p, V width, V seen, const V3& reflectance,
                        const V3& sum) {
  const V3 toward = same(lamp.toward);
  const V away = dot(p.mirror, toward);
  const V3 aside = along(toward, hn::Neg(away), p.mirror);
  const V far2 = dot(aside, aside);
  const V sine = hn::Div(number(lamp.sinHalf), hn::Sqrt(hn::Max(far2, number(1e-20f))));
  const V3 edge = along(aside, sine, times(toward, number(lamp.cosHalf)));
  V3 to = chosen(hn::Gt(far2, number(1e-12f)), edge, toward);
  to = chosen(hn::Gt(away, number(lamp.cosHalf)), p.mirror, to);
  const V cosIn = dot(p.bent, to);
  const auto lights = hn::And(hn::Gt(cosIn, hn::Zero(kF)), hn::Gt(seen, hn::Zero(kF)));
  if (hn::AllFalse(kF, lights)) return sum;
  V3 h = along(to, number(1), p.toViewer);
  h = times(h, hn::Div(number(1), hn::Sqrt(hn::Max(dot(h, h), number(1e-20f)))));
  const V a2 = squared(width), rest = hn::Sub(number(1), a2);
  const V spread = hn::Div(width, hn::Min(number(1), hn::Add(width, number(lamp.spread))));
  const V cosHalf = hn::Max(hn::Zero(kF), dot(p.bent, h));
  // the square of the sine from how far both lie apart: in narrow lobes all lies in it
  const V3 apart = along(p.bent, number(-1), h);
  const V sine2 =
      hn::Min(number(1), hn::Mul(hn::Mul(number(0.5f), dot(apart, apart)), hn::Add(number(1), cosHalf)));
  const V d = hn::MulAdd(squared(cosHalf), a2, sine2);
  const V in = hn::Mul(p.cosOut, hn::Sqrt(hn::MulAdd(squared(cosIn), rest, a2))),
          out = hn::Mul(cosIn, hn::Sqrt(hn::MulAdd(squared(p.cosOut), rest, a2)));
  const V visible = hn::Div(number(0.5f), hn::Max(number(1e-7f), hn::Add(in, out)));
  // (π of the strength and of the facets are one)
  const V facets = hn::Div(a2, squared(d));
  const V shine = hn::IfThenElseZero(
      lights, hn::Mul(hn::Mul(squared(spread), facets), hn::Mul(hn::Mul(visible, cosIn), seen)));
  const V off = hn::Sub(number(1), hn::Max(hn::Zero(kF), dot(p.toViewer, h)));
  const V raise = hn::Mul(squared(squared(off)), off);
  const auto fresnel = [&](V r) HWY_ATTR { return hn::MulAdd(raise, hn::Sub(number(1), r), r); };
  const V3 whole =
      times(same(lamp.strength), V3{fresnel(reflectance.x), fresnel(reflectance.y), fresnel(reflectance.z)});
  return along(whole, shine, sum);
}

// What lies around, as each lobe sees it: looked up place by place.
void aroundInLanes(const LitBy& by, const ShinePlaces& places, const ShinePlaces::Vectors& mirror,
                   size_t lobe, ShinePlaces::Vectors& out) {
  for (size_t i = 0; i < places.count; ++i)
    ShinePlaces::set(out, i, mirrored(by, ShinePlaces::get(mirror, i), places.width[lobe][i]));
}

void shineInLanes(const LitBy& by, std::span<const Disc> lamps, ShinePlaces& places) {
  const std::span<const float> table = reflectedTable(), caps = lobeCaps();
  ShinePlaces::Vectors mirrors{};
  std::array<ShinePlaces::Vectors, 2> around{};
  const size_t step = hn::Lanes(kF);
  const auto looksAt = [&](size_t i) HWY_ATTR {
    Looks p{loaded(places.bent, i), loaded(places.toViewer, i), {}, {}, {}};
    p.bentViewer = dot(p.bent, p.toViewer);
    p.cosOut = hn::Max(number(1e-3f), p.bentViewer);
    const V twice = hn::Add(p.bentViewer, p.bentViewer);
    p.mirror = {hn::MulSub(p.bent.x, twice, p.toViewer.x), hn::MulSub(p.bent.y, twice, p.toViewer.y),
                hn::MulSub(p.bent.z, twice, p.toViewer.z)};
    return p;
  };
  for (size_t i = 0; i < places.count; i += step) put(looksAt(i).mirror, mirrors, i);
  for (size_t lobe = 0; lobe < 2; ++lobe)
    if (lobe == 0 ||
        std::ranges::any_of(std::span(places.sharp).first(places.count), [](float s) { return s < 1; }))
      aroundInLanes(by, places, mirrors, lobe, around[lobe]);
  for (size_t i = 0; i < places.count; i += step) {
    const Looks p = looksAt(i);
    const V3 normal = loaded(places.normal, i), reflectance = loaded(places.reflectance, i),
             walls = loaded(places.walls, i);
    const V open = hn::LoadU(kF, &places.open[i]), sharp = hn::LoadU(kF, &places.sharp[i]);
    const V towardMirror = dot(loaded(places.toward, i), p.mirror), normalMirror = dot(normal, p.mirror);
    V3 light = same(Vec3::Zero()), taken = light;
    for (size_t lobe = 0; lobe < 2; ++lobe) {
      const V part = lobe == 0 ? sharp : hn::Sub(number(1), sharp);
      if (hn::AllFalse(kF, hn::Gt(part, hn::Zero(kF)))) continue;
      const V width = hn::LoadU(kF, &places.width[lobe][i]);
      const auto [scale, offset] = reflectedBy(table, p.cosOut, width);
      const V3 all{offset, offset, offset}, whole = along(reflectance, scale, all);
      const V back = hn::Sub(hn::Div(number(1), within(hn::Add(scale, offset), 0.1f, 1)), number(1));
      const V3 raised = along(reflectance, back, same(Vec3::Ones()));
      const V through = throughAperture(caps, open, towardMirror, normalMirror, width);
      const V3 met = along(loaded(around[lobe], i), through, times(walls, hn::Sub(number(1), through)));
      V3 sum = times(met, whole);
      for (const Disc& lamp : lamps)
        sum = addedLamp(lamp, p, width, hn::LoadU(kF, lamp.seen + i), reflectance, sum);
      light = along(times(sum, raised), part, light);
      taken = along(whole, part, taken);
    }
    const V outside = within(hn::Mul(number(5), hn::Add(dot(normal, p.toViewer), number(0.3f))), 0, 1);
    put(times(light, outside), places.light, i);
    taken = times(taken, outside);
    put({hn::Min(taken.x, number(1)), hn::Min(taken.y, number(1)), hn::Min(taken.z, number(1))}, places.taken,
        i);
  }
}

}  // namespace HWY_NAMESPACE
}  // namespace juvenor
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace juvenor {
namespace {

HWY_EXPORT(shineInLanes);

}  // namespace

void shineAt(const LitBy& by, ShinePlaces& places) {
  std::array<Disc, kLampCount> discs;
  size_t on = 0;
  for (size_t l = 0; l < kLampCount; ++l) {
    const LitBy::Source& lamp = by.lamps[l];
    if (lamp.strength.isZero()) continue;
    const float half = 0.5f * lamp.size;
    discs[on++] = {lamp.toward,    lamp.strength,  0.25f * lamp.size,
                   std::cos(half), std::sin(half), places.lamps[l].data()};
  }
  HWY_DYNAMIC_DISPATCH(shineInLanes)(by, {discs.data(), on}, places);
}

}  // namespace juvenor
#endif
