// Places in the table and the shares of a tetrahedron's corners are worked out for a register of samples at
// once; the corners themselves are fetched sample by sample, all amounts and colours of a node in one go.
#include "core/layers/composite/tint_chunk.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/layers/composite/tint_chunk.cpp"
#include <hwy/foreach_target.h>
// foreach_target must come before highway
#include <hwy/highway.h>

#include "core/color/srgb-inl.h"

HWY_BEFORE_NAMESPACE();
namespace juvenor {
namespace HWY_NAMESPACE {

// So many samples go through each step together: what one step leaves is in memory when the next asks for it,
// and registers do not wait for each other.
constexpr size_t kBatch = 256;
static_assert(kChunkSize % kBatch == 0 && kBatch % hn::MaxLanes(kF) == 0);

struct Batch {
  /// For each sample where the numbers of four nodes begin, and the nodes' shares in 1/32768, each twice in
  /// one number.
  HWY_ALIGN std::array<std::array<int32_t, kBatch>, 4> begin;
  HWY_ALIGN std::array<std::array<int32_t, kBatch>, 4> share;
  /// The weights of its amounts, two in one number: 1/2^14 each.
  HWY_ALIGN std::array<int32_t, kBatch> low, high;
  /// What its colours move by: four values in 1/2^14 of the table's step, the last means nothing.
  HWY_ALIGN std::array<int32_t, 4 * kBatch> ways;
  /// Where in the chunk its registers are: only those with anything to do.
  std::array<size_t, kBatch> place;
  size_t count = 0;  ///< of samples, in whole registers
};

HWY_INLINE V within(V v, float low, float high) {
  return hn::Min(hn::Max(v, hn::Set(kF, low)), hn::Set(kF, high));
}

// The processor's estimate and a step of Newton's: to 1e-6, in a quarter of the time of the whole root.
HWY_INLINE V roughSqrt(V v) {
  const V y = hn::ApproximateReciprocalSqrt(v), root = hn::Mul(v, y);
  return hn::Mul(root, hn::NegMulAdd(hn::Mul(root, y), hn::Set(kF, 0.5f), hn::Set(kF, 1.5f)));
}

HWY_INLINE V cellsOfRatio(V of, V to) {
  constexpr float kScale = (SkinTint::kRatios - 1) / (SkinTint::kRatioHigh - SkinTint::kRatioLow);
  const V ratio = hn::Mul(of, hn::ApproximateReciprocal(to));
  return within(hn::MulAdd(ratio, hn::Set(kF, kScale), hn::Set(kF, -SkinTint::kRatioLow * kScale)), 0.f,
                static_cast<float>(SkinTint::kRatios - 1));
}

// Two numbers of 16 bits in one.
template <class D32>
HWY_INLINE D32 paired(D32 low, D32 high) {
  const hn::RebindToSigned<F> di;
  return hn::Or(hn::And(low, hn::Set(di, 0xffff)), hn::ShiftLeft<16>(high));
}

template <int kAmounts>
HWY_INLINE void findCorners(V r, V g, V b, Batch& out) {
  constexpr float kScale = (SkinTint::kBright - 1) / (SkinTint::kBrightHigh - SkinTint::kBrightLow);
  const V bright =
      within(hn::MulAdd(roughSqrt(r), hn::Set(kF, kScale), hn::Set(kF, -SkinTint::kBrightLow * kScale)), 0.f,
             static_cast<float>(SkinTint::kBright - 1));
  const V green = cellsOfRatio(g, r), blue = cellsOfRatio(b, g);
  const auto cellOf = [](V v, int count) HWY_ATTR {
    return hn::Min(hn::Floor(v), hn::Set(kF, static_cast<float>(count - 2)));
  };
  const V cx = cellOf(bright, SkinTint::kBright), cy = cellOf(green, SkinTint::kRatios),
          cz = cellOf(blue, SkinTint::kRatios);
  const V fx = hn::Sub(bright, cx), fy = hn::Sub(green, cy), fz = hn::Sub(blue, cz);
  // numbers are few enough for floats to count them
  constexpr float kZ = 4 * kAmounts, kY = kZ * SkinTint::kRatios, kX = kY * SkinTint::kRatios;
  static_assert(SkinTint::kBright * kX < 4e6f);
  const V sx = hn::Set(kF, kX), sy = hn::Set(kF, kY), sz = hn::Set(kF, kZ), all = hn::Set(kF, kX + kY + kZ);
  const V most = hn::Max(fx, hn::Max(fy, fz)), least = hn::Min(fx, hn::Min(fy, fz));
  const V middle = hn::Sub(hn::Add(fx, hn::Add(fy, fz)), hn::Add(most, least));
  const V first = hn::IfThenElse(hn::Eq(fx, most), sx, hn::IfThenElse(hn::Eq(fy, most), sy, sz));
  const V last = hn::IfThenElse(hn::Eq(fz, least), sz, hn::IfThenElse(hn::Eq(fy, least), sy, sx));
  const V base = hn::MulAdd(cx, sx, hn::MulAdd(cy, sy, hn::Mul(cz, sz)));
  const hn::RebindToSigned<F> di;
  const auto keep = [&](size_t corner, V begin, V share) HWY_ATTR {
    hn::Store(hn::And(nearBits(begin), hn::Set(di, 0x3fffff)), di, &out.begin[corner][out.count]);
    const auto part = nearBits(hn::Mul(share, hn::Set(kF, 32767.f)));
    hn::Store(paired(part, part), di, &out.share[corner][out.count]);
  };
  keep(0, base, hn::Sub(hn::Set(kF, 1.f), most));
  keep(1, hn::Add(base, first), hn::Sub(most, middle));
  keep(2, hn::Add(base, hn::Sub(all, last)), hn::Sub(middle, least));
  keep(3, hn::Add(base, all), least);
}

// What one sample's colours move by: the corners by their shares, then the amounts by their weights.
#if HWY_TARGET == HWY_SCALAR
template <int kAmounts>
HWY_INLINE void fetch(const int16_t* nodes, const Batch& batch, size_t lane, int32_t* HWY_RESTRICT out) {
  const auto half = [](int32_t pair, size_t k) {
    return static_cast<int16_t>(k == 0 ? pair & 0xffff : pair >> 16);
  };
  for (size_t c = 0; c < 4; ++c) {
    out[c] = 0;
    for (size_t k = 0; k < kAmounts; ++k) {
      int32_t sum = 0;
      for (size_t n = 0; n < 4; ++n)
        sum += (nodes[static_cast<size_t>(batch.begin[n][lane]) + SkinTint::place(k, c)] *
                    half(batch.share[n][lane], 0) +
                16384) >>
               15;
      out[c] += sum * half((k < 2 ? batch.low : batch.high)[lane], k % 2);
    }
  }
}
#else
template <class D>
HWY_INLINE hn::Vec<D> nodeAt(D d, const int16_t* nodes, const Batch& batch, size_t lane, size_t part) {
  const hn::Repartition<int32_t, D> d32;
  const auto of = [&](size_t c) HWY_ATTR {
    const int16_t* node = nodes + batch.begin[c][lane] + part;
    return hn::MulFixedPoint15(hn::LoadU(d, node), hn::BitCast(d, hn::Set(d32, batch.share[c][lane])));
  };
  return hn::Add(hn::Add(of(0), of(1)), hn::Add(of(2), of(3)));
}

template <class D>
HWY_INLINE hn::Vec<hn::Repartition<int32_t, D>> weighed(D d, hn::Vec<D> sum,
                                                        hn::Vec<hn::Repartition<int32_t, D>> by) {
  const hn::Repartition<int32_t, D> d32;
  auto odd = hn::Zero(d32);
  const auto even = hn::ReorderWidenMulAccumulate(d32, sum, hn::BitCast(d, by), hn::Zero(d32), odd);
  return hn::RearrangeToOddPlusEven(even, odd);
}

// All four amounts in one register, where it is wide enough, or in two.
template <class D>
HWY_INLINE hn::Vec<hn::FixedTag<int32_t, 4>> ofFour(D d, const int16_t* nodes, const Batch& batch,
                                                    size_t lane) {
  const hn::Repartition<int32_t, D> d32;
  const hn::FixedTag<int32_t, 4> d4;
  const auto low = hn::Set(d4, batch.low[lane]), high = hn::Set(d4, batch.high[lane]);
  if constexpr (hn::MaxLanes(D()) == 16) {
    const auto both = weighed(d, nodeAt(d, nodes, batch, lane, 0), hn::Combine(d32, high, low));
    return hn::Add(hn::LowerHalf(d4, both), hn::UpperHalf(d4, both));
  } else {
    return hn::Add(weighed(d, nodeAt(d, nodes, batch, lane, 0), low),
                   weighed(d, nodeAt(d, nodes, batch, lane, 8), high));
  }
}

template <int kAmounts>
HWY_INLINE void fetch(const int16_t* nodes, const Batch& batch, size_t lane, int32_t* HWY_RESTRICT out) {
  const hn::FixedTag<int16_t, 8> d;
  const hn::FixedTag<int32_t, 4> d4;
  if constexpr (kAmounts == 2)
    hn::Store(weighed(d, nodeAt(d, nodes, batch, lane, 0), hn::Set(d4, batch.low[lane])), d4, out);
  else
    hn::Store(ofFour(hn::CappedTag<int16_t, 16>(), nodes, batch, lane), d4, out);
}
#endif

// Lagrange's polynomials through 0, 1/4 … 1, or 0, 1/2 and 1.
template <int kAmounts>
HWY_INLINE void weigh(V amount, Batch& out) {
  const hn::RebindToSigned<F> di;
  const V a = hn::Mul(amount, hn::Set(kF, static_cast<float>(kAmounts)));
  const auto less = [&](float by) HWY_ATTR { return hn::Sub(a, hn::Set(kF, by)); };
  const auto weight = [&](V product, float part) HWY_ATTR {
    return nearBits(hn::Mul(hn::Mul(a, product), hn::Set(kF, part * 16384)));
  };
  if constexpr (kAmounts == 2) {
    hn::Store(paired(weight(less(2), -1.f), weight(less(1), 0.5f)), di, &out.low[out.count]);
    return;
  }
  const V a1 = less(1), a2 = less(2), a3 = less(3), a4 = less(4), a34 = hn::Mul(a3, a4),
          a12 = hn::Mul(a1, a2);
  hn::Store(paired(weight(hn::Mul(a2, a34), -1.f / 6), weight(hn::Mul(a1, a34), 1.f / 4)), di,
            &out.low[out.count]);
  hn::Store(paired(weight(hn::Mul(a12, a4), -1.f / 6), weight(hn::Mul(a12, a3), 1.f / 24)), di,
            &out.high[out.count]);
}

struct Roots {
  V r, g, b, alpha;
};

HWY_INLINE Roots rootsAt(const ColorChunk& back, size_t i) {
  const V full = hn::Set(kF, 65535.f), one = hn::Set(kF, 1.f), foot = hn::Set(kF, SkinTint::kFoot);
  const V alpha = load(&back.plane[3][i]);
  const V over =
      hn::AllTrue(kF, hn::Eq(alpha, full)) ? hn::Set(kF, 1 / 65535.f) : hn::Div(one, hn::Max(alpha, one));
  const auto root = [&](size_t c) HWY_ATTR {
    return hn::Add(hn::Min(one, hn::Mul(load(&back.plane[c][i]), over)), foot);
  };
  return {root(0), root(1), root(2), alpha};
}

// The nodes and weights for samples begin … begin + kBatch of what is left of the amounts after so much.
template <int kAmounts>
HWY_INLINE void lookUp(const ColorChunk& back, const TintAmounts& amounts, float after, size_t begin,
                       Batch& out) {
  const V zero = hn::Zero(kF);
  out.count = 0;
  for (size_t i = begin; i < begin + kBatch; i += hn::Lanes(kF)) {
    const V amount = within(hn::Sub(hn::Load(kF, &amounts.amount[i]), hn::Set(kF, after)), 0.f, 1.f);
    const Roots roots = rootsAt(back, i);
    if (hn::AllFalse(kF, hn::And(hn::Gt(amount, zero), hn::Gt(roots.alpha, zero)))) continue;
    findCorners<kAmounts>(roots.r, roots.g, roots.b, out);
    weigh<kAmounts>(amount, out);
    out.place[out.count / hn::Lanes(kF)] = i;
    out.count += hn::Lanes(kF);
  }
}

HWY_INLINE void move(const Batch& batch, ColorChunk& back) {
  const V full = hn::Set(kF, 65535.f), foot = hn::Set(kF, SkinTint::kFoot);
  const hn::RebindToSigned<F> di;
  for (size_t at = 0; at < batch.count; at += hn::Lanes(kF)) {
    const size_t i = batch.place[at / hn::Lanes(kF)];
    hn::Vec<hn::RebindToSigned<F>> ir, ig, ib, nothing;
    hn::LoadInterleaved4(di, &batch.ways[4 * at], ir, ig, ib, nothing);
    const auto wayOf = [&](auto steps) HWY_ATTR {
      return hn::Mul(hn::ConvertTo(kF, steps), hn::Set(kF, SkinTint::kStep / 16384));
    };
    V wr = wayOf(ir), wg = wayOf(ig), wb = wayOf(ib);
    roughExp2(wr, wg, wb);
    const Roots roots = rootsAt(back, i);
    const auto put = [&](size_t c, V root, V ratio) HWY_ATTR {
      const V moved = within(hn::MulSub(root, ratio, foot), 0.f, 1.f);
      store(hn::Min(full, hn::Mul(moved, roots.alpha)), &back.plane[c][i]);
    };
    put(0, roots.r, wr);
    put(1, roots.g, wg);
    put(2, roots.b, wb);
  }
}

template <int kAmounts>
HWY_INLINE void tintBy(const int16_t* nodes, const TintAmounts& amounts, ColorChunk& back) {
  Batch batch;
  for (float after = 0; after < amounts.most; ++after)
    for (size_t begin = 0; begin < kChunkSize; begin += kBatch) {
      lookUp<kAmounts>(back, amounts, after, begin, batch);
      for (size_t lane = 0; lane < batch.count; ++lane)
        fetch<kAmounts>(nodes, batch, lane, batch.ways.data() + 4 * lane);
      move(batch, back);
    }
}

void tintNodes(const SkinTint& tint, const TintAmounts& amounts, ColorChunk& back) {
  const int16_t* nodes = tint.nodes().data();
  if (tint.amounts() == 2) return tintBy<2>(nodes, amounts, back);
  tintBy<4>(nodes, amounts, back);
}

void addAmounts(TintAmounts& sum, const ColorChunk& source, const ScalarChunk* mask, float opacity) {
  const V unit = hn::Set(kF, 1.f / 65535.f);
  V most = hn::Zero(kF);
  for (size_t i = 0; i < kChunkSize; i += hn::Lanes(kF)) {
    V scale = hn::Set(kF, opacity);
    if (mask) scale = hn::Mul(scale, hn::Mul(load(&mask->plane[0][i]), unit));
    const V all = hn::MulAdd(hn::Mul(load(&source.plane[3][i]), unit), scale, hn::Load(kF, &sum.amount[i]));
    hn::Store(all, kF, &sum.amount[i]);
    most = hn::Max(most, all);
  }
  sum.most = hn::GetLane(hn::MaxOfLanes(kF, most));
}

}  // namespace HWY_NAMESPACE
}  // namespace juvenor
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace juvenor {
namespace {

HWY_EXPORT(tintNodes);
HWY_EXPORT(addAmounts);

}  // namespace

void addTint(TintAmounts& sum, const ColorChunk& source, const ScalarChunk* mask, float opacity) {
  HWY_DYNAMIC_DISPATCH(addAmounts)(sum, source, mask, opacity);
}

void tintChunk(const TintAmounts& amounts, ColorChunk& backdrop) {
  HWY_DYNAMIC_DISPATCH(tintNodes)(*skinTintOf(amounts.mode), amounts, backdrop);
}

}  // namespace juvenor
#endif
