// Places in the table and the shares of a tetrahedron's corners are worked out for a register of samples at
// once; the corners themselves are fetched sample by sample, all amounts and colours of a node in one go.
#include "core/layers/tint_chunk.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/layers/tint_chunk.cpp"
#include <hwy/foreach_target.h>
// foreach_target must come before highway
#include <hwy/highway.h>

#include "core/color/srgb-inl.h"

HWY_BEFORE_NAMESPACE();
namespace juvenor {
namespace HWY_NAMESPACE {

constexpr size_t kMost = hn::MaxLanes(kF);

// For each sample of a register: the four nodes, and their shares in 1/32768.
struct Corners {
  HWY_ALIGN std::array<std::array<int32_t, kMost>, 4> node;
  HWY_ALIGN std::array<std::array<int32_t, kMost>, 4> share;
};

HWY_INLINE V within(V v, float low, float high) {
  return hn::Min(hn::Max(v, hn::Set(kF, low)), hn::Set(kF, high));
}

HWY_INLINE V cellsOfRatio(V of, V to) {
  constexpr float kScale = (SkinTint::kRatios - 1) / (SkinTint::kRatioHigh - SkinTint::kRatioLow);
  const V ratio = hn::Mul(of, hn::ApproximateReciprocal(to));
  return within(hn::MulAdd(ratio, hn::Set(kF, kScale), hn::Set(kF, -SkinTint::kRatioLow * kScale)), 0.f,
                static_cast<float>(SkinTint::kRatios - 1));
}

HWY_INLINE void findCorners(V r, V g, V b, Corners& out) {
  constexpr float kScale = (SkinTint::kBright - 1) / (SkinTint::kBrightHigh - SkinTint::kBrightLow);
  const V one = hn::Set(kF, 1.f);
  const V bright =
      within(hn::MulAdd(hn::Sqrt(r), hn::Set(kF, kScale), hn::Set(kF, -SkinTint::kBrightLow * kScale)), 0.f,
             static_cast<float>(SkinTint::kBright - 1));
  const V green = cellsOfRatio(g, r), blue = cellsOfRatio(b, g);
  const auto cellOf = [](V v, int count) HWY_ATTR {
    return hn::Min(hn::Floor(v), hn::Set(kF, static_cast<float>(count - 2)));
  };
  const V cx = cellOf(bright, SkinTint::kBright), cy = cellOf(green, SkinTint::kRatios),
          cz = cellOf(blue, SkinTint::kRatios);
  const V fx = hn::Sub(bright, cx), fy = hn::Sub(green, cy), fz = hn::Sub(blue, cz);
  constexpr float kX = static_cast<float>(SkinTint::kRatios) * SkinTint::kRatios, kY = SkinTint::kRatios;
  const V sx = hn::Set(kF, kX), sy = hn::Set(kF, kY), all = hn::Set(kF, kX + kY + 1);
  const V most = hn::Max(fx, hn::Max(fy, fz)), least = hn::Min(fx, hn::Min(fy, fz));
  const V middle = hn::Sub(hn::Add(fx, hn::Add(fy, fz)), hn::Add(most, least));
  const V first = hn::IfThenElse(hn::Eq(fx, most), sx, hn::IfThenElse(hn::Eq(fy, most), sy, one));
  const V last = hn::IfThenElse(hn::Eq(fz, least), one, hn::IfThenElse(hn::Eq(fy, least), sy, sx));
  // nodes are few enough for floats to count them
  const V base = hn::MulAdd(cx, sx, hn::MulAdd(cy, sy, cz));
  const hn::RebindToSigned<F> di;
  const auto keep = [&](size_t corner, V node, V share) HWY_ATTR {
    hn::Store(hn::ConvertTo(di, node), di, out.node[corner].data());
    hn::Store(hn::NearestInt(hn::Mul(share, hn::Set(kF, 32767.f))), di, out.share[corner].data());
  };
  keep(0, base, hn::Sub(one, most));
  keep(1, hn::Add(base, first), hn::Sub(most, middle));
  keep(2, hn::Add(base, hn::Sub(all, last)), hn::Sub(middle, least));
  keep(3, hn::Add(base, all), least);
}

// For each sample of a register the weights of its amounts, two in one number: 1/2^14 each.
struct Weights {
  HWY_ALIGN std::array<int32_t, kMost> low, high;
};

// What one sample's colours move by: the corners by their shares, then the amounts by their weights. Four
// values in 1/2^14 of the table's step, the last means nothing.
#if HWY_TARGET == HWY_SCALAR
HWY_INLINE void fetch(const SkinTint::Node* nodes, const Corners& corners, const Weights& weights,
                      size_t lane, int32_t* HWY_RESTRICT out) {
  const auto half = [](int32_t pair, size_t k) {
    return static_cast<int16_t>(k == 0 ? pair & 0xffff : pair >> 16);
  };
  for (size_t c = 0; c < 4; ++c) {
    out[c] = 0;
    for (size_t k = 0; k < SkinTint::kAmounts; ++k) {
      int32_t sum = 0;
      for (size_t n = 0; n < 4; ++n)
        sum += (nodes[corners.node[n][lane]][SkinTint::place(k, c)] * corners.share[n][lane] + 16384) >> 15;
      out[c] += sum * half((k < 2 ? weights.low : weights.high)[lane], k % 2);
    }
  }
}
#else
template <class D>
HWY_INLINE void fetchBy(D d, const SkinTint::Node* nodes, const Corners& corners, const Weights& weights,
                        size_t lane, int32_t* HWY_RESTRICT out) {
  const hn::Repartition<int32_t, D> d32;
  const hn::FixedTag<int32_t, 4> d4;
  const auto sumOf = [&](size_t part) HWY_ATTR {
    auto sum = hn::Zero(d);
    for (size_t c = 0; c < 4; ++c) {
      const int16_t* node = nodes[corners.node[c][lane]].data() + part;
      const auto share = hn::Set(d, static_cast<int16_t>(corners.share[c][lane]));
      sum = hn::Add(sum, hn::MulFixedPoint15(hn::LoadU(d, node), share));
    }
    return sum;
  };
  const auto weighed = [&](auto sum, auto by) HWY_ATTR {
    auto odd = hn::Zero(d32);
    const auto even = hn::ReorderWidenMulAccumulate(d32, sum, hn::BitCast(d, by), hn::Zero(d32), odd);
    return hn::RearrangeToOddPlusEven(even, odd);
  };
  const auto low = hn::Set(d4, weights.low[lane]), high = hn::Set(d4, weights.high[lane]);
  if constexpr (hn::MaxLanes(D()) == 16) {
    const auto both = weighed(sumOf(0), hn::Combine(d32, high, low));
    hn::Store(hn::Add(hn::LowerHalf(d4, both), hn::UpperHalf(d4, both)), d4, out);
  } else {
    hn::Store(hn::Add(weighed(sumOf(0), low), weighed(sumOf(8), high)), d4, out);
  }
}

HWY_INLINE void fetch(const SkinTint::Node* nodes, const Corners& corners, const Weights& weights,
                      size_t lane, int32_t* HWY_RESTRICT out) {
  fetchBy(hn::CappedTag<int16_t, 16>(), nodes, corners, weights, lane, out);
}
#endif

// Lagrange's polynomials through 0, 1/4 … 1.
HWY_INLINE void weigh(V amount, Weights& out) {
  const hn::RebindToSigned<F> di;
  const V a = hn::Mul(amount, hn::Set(kF, 4.f));
  const auto less = [&](float by) HWY_ATTR { return hn::Sub(a, hn::Set(kF, by)); };
  const V a1 = less(1), a2 = less(2), a3 = less(3), a4 = less(4), a34 = hn::Mul(a3, a4),
          a12 = hn::Mul(a1, a2);
  const auto weight = [&](V product, float part) HWY_ATTR {
    return hn::NearestInt(hn::Mul(hn::Mul(a, product), hn::Set(kF, part * 16384)));
  };
  const auto pair = [&](auto first, auto second, int32_t* to) HWY_ATTR {
    hn::Store(hn::Or(hn::And(first, hn::Set(di, 0xffff)), hn::ShiftLeft<16>(second)), di, to);
  };
  pair(weight(hn::Mul(a2, a34), -1.f / 6), weight(hn::Mul(a1, a34), 1.f / 4), out.low.data());
  pair(weight(hn::Mul(a12, a4), -1.f / 6), weight(hn::Mul(a12, a3), 1.f / 24), out.high.data());
}

void tintNodes(const SkinTint::Node* nodes, ColorChunk& back, const ColorChunk& source,
               const ScalarChunk* mask, float opacity) {
  const V full = hn::Set(kF, 65535.f), unit = hn::Set(kF, 1.f / 65535.f), one = hn::Set(kF, 1.f);
  const V foot = hn::Set(kF, SkinTint::kFoot);
  const size_t lanes = hn::Lanes(kF);
  const hn::RebindToSigned<F> di;
  Corners corners;
  Weights weights;
  HWY_ALIGN std::array<int32_t, 4 * kMost> ways;
  for (size_t i = 0; i < kChunkSize; i += lanes) {
    V scale = hn::Set(kF, opacity);
    if (mask) scale = hn::Mul(scale, hn::Mul(load(&mask->plane[0][i]), unit));
    const V amount = hn::Mul(hn::Mul(load(&source.plane[3][i]), unit), scale);
    const V alpha = load(&back.plane[3][i]);
    if (hn::AllFalse(kF, hn::And(hn::Gt(amount, hn::Zero(kF)), hn::Gt(alpha, hn::Zero(kF))))) continue;
    const V over = hn::Div(one, hn::Max(alpha, one));
    const auto rootOf = [&](size_t c) HWY_ATTR {
      return hn::Add(hn::Min(one, hn::Mul(load(&back.plane[c][i]), over)), foot);
    };
    const V r = rootOf(0), g = rootOf(1), b = rootOf(2);
    findCorners(r, g, b, corners);
    weigh(amount, weights);
    for (size_t lane = 0; lane < lanes; ++lane) fetch(nodes, corners, weights, lane, ways.data() + 4 * lane);
    hn::Vec<hn::RebindToSigned<F>> ir, ig, ib, nothing;
    hn::LoadInterleaved4(di, ways.data(), ir, ig, ib, nothing);
    const auto wayOf = [&](auto steps) HWY_ATTR {
      return hn::Mul(hn::ConvertTo(kF, steps), hn::Set(kF, SkinTint::kStep / 16384));
    };
    V wr = wayOf(ir), wg = wayOf(ig), wb = wayOf(ib);
    roughExp2(wr, wg, wb);
    const auto put = [&](size_t c, V root, V ratio) HWY_ATTR {
      const V moved = within(hn::MulSub(root, ratio, foot), 0.f, 1.f);
      store(hn::Min(full, hn::Mul(moved, alpha)), &back.plane[c][i]);
    };
    put(0, r, wr);
    put(1, g, wg);
    put(2, b, wb);
  }
}

}  // namespace HWY_NAMESPACE
}  // namespace juvenor
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace juvenor {
namespace {

HWY_EXPORT(tintNodes);

}  // namespace

void tintChunk(const SkinTint& tint, ColorChunk& backdrop, const ColorChunk& source, const ScalarChunk* mask,
               float opacity) {
  HWY_DYNAMIC_DISPATCH(tintNodes)(tint.nodes().data(), backdrop, source, mask, opacity);
}

}  // namespace juvenor
#endif
