// Octaves of Perlin's noise (2002), as they are or folded into ridges (Musgrave, in Ebert et al. 2003), and
// Worley's cells (1996). The same sums as in noise.cpp, lane by lane.
#include "core/noise/noise_rows.h"

#include <algorithm>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/noise/noise_rows.cpp"
#include <hwy/foreach_target.h>
// foreach_target must come before highway
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace juvenor {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

using Lanes = hn::ScalableTag<float>;
using Whole = hn::RebindToUnsigned<Lanes>;
using Real = hn::Vec<Lanes>;
using Bits = hn::Vec<Whole>;
constexpr Lanes kReal;
constexpr Whole kBits;

HWY_INLINE Real real(float v) {
  return hn::Set(kReal, v);
}
HWY_INLINE Bits bits(uint32_t v) {
  return hn::Set(kBits, v);
}

HWY_INLINE Bits numberOf(Real cell) {
  const hn::RebindToSigned<Lanes> di;
  return hn::BitCast(kBits, hn::ConvertTo(di, cell));
}

constexpr uint32_t kX = 0x8da6b343u, kY = 0xd8163841u, kZ = 0xcb1ab31fu;

// `h` is the seed and the numbers of a cell times the primes above.
HWY_INLINE Bits hashed(Bits h) {
  h = hn::Xor(h, hn::ShiftRight<16>(h));
  h = hn::Mul(h, bits(0x7feb352du));
  h = hn::Xor(h, hn::ShiftRight<15>(h));
  h = hn::Mul(h, bits(0x846ca68bu));
  return hn::Xor(h, hn::ShiftRight<16>(h));
}

// Perlin's twelve directions, four of them twice: two of the coordinates, each with either sign.
HWY_INLINE Real gradient(Bits h, Real x, Real y, Real z) {
  const auto is = [](auto m) HWY_ATTR { return hn::RebindMask(kReal, m); };
  const Bits low = hn::And(h, bits(15));
  const auto second = is(hn::Eq(hn::And(low, bits(13)), bits(12)));
  const Real u = hn::IfThenElse(is(hn::TestBit(low, bits(8))), y, x);
  const Real v =
      hn::IfThenElse(is(hn::Eq(hn::And(low, bits(12)), hn::Zero(kBits))), y, hn::IfThenElse(second, x, z));
  const auto signedBy = [](Real r, Bits sign) HWY_ATTR { return hn::Xor(r, hn::BitCast(kReal, sign)); };
  return hn::Add(signedBy(u, hn::ShiftLeft<31>(low)), signedBy(v, hn::ShiftLeft<30>(hn::And(low, bits(2)))));
}

HWY_INLINE Real fade(Real t) {
  const Real s = hn::MulAdd(t, hn::MulAdd(t, real(6), real(-15)), real(10));
  return hn::Mul(hn::Mul(t, hn::Mul(t, t)), s);
}
HWY_INLINE Real between(Real a, Real b, Real t) {
  return hn::MulAdd(t, hn::Sub(b, a), a);
}

HWY_INLINE Real perlinAt(Real px, Real py, Real pz, uint32_t seed) {
  const Real cx = hn::Floor(px), cy = hn::Floor(py), cz = hn::Floor(pz);
  const Real x = hn::Sub(px, cx), y = hn::Sub(py, cy), z = hn::Sub(pz, cz), one = real(1);
  const Real x1 = hn::Sub(x, one), y1 = hn::Sub(y, one), z1 = hn::Sub(z, one);
  const Bits base = hn::Add(hn::Add(bits(seed), hn::Mul(numberOf(cx), bits(kX))),
                            hn::Add(hn::Mul(numberOf(cy), bits(kY)), hn::Mul(numberOf(cz), bits(kZ))));
  const Real u = fade(x);
  const auto edge = [&](uint32_t from, Real ey, Real ez) HWY_ATTR {
    return between(gradient(hashed(hn::Add(base, bits(from))), x, ey, ez),
                   gradient(hashed(hn::Add(base, bits(from + kX))), x1, ey, ez), u);
  };
  const Real v = fade(y);
  return between(between(edge(0, y, z), edge(kY, y1, z), v),
                 between(edge(kZ, y, z1), edge(kY + kZ, y1, z1), v), fade(z));
}

// The distance to the nearest of one random point per cell.
HWY_INLINE Real nearestAt(Real px, Real py, Real pz, uint32_t seed) {
  const Real cx = hn::Floor(px), cy = hn::Floor(py), cz = hn::Floor(pz);
  const Real x = hn::Sub(px, cx), y = hn::Sub(py, cy), z = hn::Sub(pz, cz);
  const Bits base = hn::Add(hn::Add(bits(seed), hn::Mul(numberOf(cx), bits(kX))),
                            hn::Add(hn::Mul(numberOf(cy), bits(kY)), hn::Mul(numberOf(cz), bits(kZ))));
  const hn::RebindToSigned<Lanes> di;
  Real nearest = real(81);
  for (int k = -1; k <= 1; ++k)
    for (int j = -1; j <= 1; ++j)
      for (int i = -1; i <= 1; ++i) {
        const uint32_t way =
            static_cast<uint32_t>(i) * kX + static_cast<uint32_t>(j) * kY + static_cast<uint32_t>(k) * kZ;
        const Bits h = hashed(hn::Add(base, bits(way)));
        const auto off = [&](Bits ten, int cell, Real from) HWY_ATTR {
          const Real part = hn::ConvertTo(kReal, hn::BitCast(di, hn::And(ten, bits(1023))));
          return hn::Sub(hn::MulAdd(part, real(1 / 1023.f), real(static_cast<float>(cell))), from);
        };
        const Real ox = off(h, i, x), oy = off(hn::ShiftRight<10>(h), j, y),
                   oz = off(hn::ShiftRight<20>(h), k, z);
        nearest = hn::Min(nearest, hn::MulAdd(ox, ox, hn::MulAdd(oy, oy, hn::Mul(oz, oz))));
      }
  return hn::Sqrt(nearest);
}

constexpr uint32_t kOctaves = 4;
constexpr float kLacunarity = 2.03f, kGain = 0.55f;

// How much of a feature of a size is kept where samples are `finest` apart.
HWY_INLINE Real kept(float size, Real finest) {
  const Real t = hn::Sub(hn::Div(real(size), hn::Max(finest, real(1e-30f))), real(1));
  const Real c = hn::Min(hn::Max(t, real(0)), real(1));
  return hn::Mul(hn::Mul(c, c), hn::NegMulAdd(real(2), c, real(3)));
}

template <NoiseKind Kind>
HWY_INLINE Real octaves(Real x, Real y, Real z, Real finest, uint32_t seed) {
  Real sum = real(0);
  float strength = 1, size = 1;
  for (uint32_t octave = 0; octave < kOctaves; ++octave) {
    const Real keep = kept(size, finest);
    if (hn::AllFalse(kReal, hn::Gt(keep, real(0)))) break;
    Real n = perlinAt(x, y, z, seed + octave * 101u);
    if (Kind == NoiseKind::Ridged) n = hn::Sub(real(0.25f), hn::Abs(n));
    sum = hn::MulAdd(hn::Mul(keep, real(strength)), n, sum);
    for (Real* p : {&x, &y, &z}) *p = hn::Mul(*p, real(kLacunarity));
    size /= kLacunarity;
    strength *= kGain;
  }
  return sum;
}

// `body(x, y, z, apart)` for registers of places over `size`, the last one filled up. `apart` may be null: 0.
template <class Body>
HWY_INLINE void eachRegister(const PlaceRow& places, float size, const float* apart, float* out, Body body) {
  const size_t lanes = hn::Lanes(kReal), count = places.size();
  const Real inverse = real(1 / size);
  HWY_ALIGN std::array<float, hn::MaxLanes(kReal)> rest{};
  const auto from = [&](const float* row, size_t i) HWY_ATTR {
    if (i + lanes <= count) return hn::LoadU(kReal, row + i);
    std::copy(row + i, row + count, rest.begin());
    return hn::Load(kReal, rest.data());
  };
  for (size_t i = 0; i < count; i += lanes) {
    // so far out that floats hold no parts of a cell noise stands still
    const auto at = [&](const float* row) HWY_ATTR {
      return hn::Min(hn::Max(hn::Mul(from(row, i), inverse), real(-1e8f)), real(1e8f));
    };
    const auto& [x, y, z] = places.along;
    const Real value = body(at(x.data()), at(y.data()), at(z.data()), apart ? at(apart) : real(0));
    hn::Store(value, kReal, rest.data());
    std::copy_n(rest.begin(), std::min(lanes, count - i), out + i);
  }
}

void perlinLanes(const PlaceRow& places, float size, uint32_t seed, float* out) {
  eachRegister(places, size, nullptr, out,
               [&](Real x, Real y, Real z, Real) HWY_ATTR { return perlinAt(x, y, z, seed); });
}

template <NoiseKind Kind>
HWY_INLINE void octaveLanes(const PlaceRow& places, float size, const float* apart, uint32_t seed,
                            float* out) {
  eachRegister(places, size, apart, out, [&](Real x, Real y, Real z, Real finest) HWY_ATTR {
    return octaves<Kind>(x, y, z, finest, seed);
  });
}
void noiseLanes(NoiseKind kind, const PlaceRow& places, float size, const float* apart, uint32_t seed,
                float* out) {
  if (kind == NoiseKind::Cloud) return octaveLanes<NoiseKind::Cloud>(places, size, apart, seed, out);
  if (kind == NoiseKind::Ridged) return octaveLanes<NoiseKind::Ridged>(places, size, apart, seed, out);
  eachRegister(places, size, apart, out, [&](Real x, Real y, Real z, Real finest) HWY_ATTR {
    return hn::Mul(kept(1, finest), hn::Sub(nearestAt(x, y, z, seed), real(0.5f)));
  });
}

}  // namespace HWY_NAMESPACE
}  // namespace juvenor
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace juvenor {
namespace {

HWY_EXPORT(perlinLanes);
HWY_EXPORT(noiseLanes);

}  // namespace

std::vector<float> perlinRow(const PlaceRow& places, float size, uint32_t seed) {
  std::vector<float> out(places.size());
  HWY_DYNAMIC_DISPATCH(perlinLanes)(places, size, seed, out.data());
  return out;
}

std::vector<float> rawNoise(NoiseKind kind, const PlaceRow& places, float size, std::span<const float> apart,
                            uint32_t seed) {
  std::vector<float> out(places.size());
  HWY_DYNAMIC_DISPATCH(noiseLanes)
  (kind, places, size, apart.empty() ? nullptr : apart.data(), seed, out.data());
  return out;
}

}  // namespace juvenor
#endif
