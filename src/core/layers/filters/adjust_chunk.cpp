// A matrix on encoded colours for as many samples at once as the machine's registers hold, then the curve.
#include "core/layers/filters/adjust.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/layers/filters/adjust_chunk.cpp"
#include <hwy/foreach_target.h>
// foreach_target must come before highway
#include <hwy/highway.h>

#include "core/color/srgb-inl.h"

HWY_BEFORE_NAMESPACE();
namespace juvenor {
namespace HWY_NAMESPACE {

void multiplyInLanes(const ColorMatrix& matrix, std::span<const float> curve, const ColorChunk& below,
                     ColorChunk& out) {
  const bool curved = !curve.empty();
  const V low = hn::Zero(kF), high = hn::Set(kF, 65535.f);
  constexpr float kPerStep = static_cast<float>(kCurveSteps - 1) / 65535;
  const V last = hn::Set(kF, static_cast<float>(kCurveSteps - 2));
  // between the two places of the table around a value; the table is small enough for the nearest memory
  const auto onCurve = [&](V v) HWY_ATTR {
    const V place = hn::Mul(v, hn::Set(kF, kPerStep)), at = hn::Min(hn::Floor(place), last);
    const auto index = hn::ConvertTo(hn::RebindToSigned<F>(), at);
    const V a = hn::GatherIndex(kF, curve.data(), index), b = hn::GatherIndex(kF, curve.data() + 1, index);
    return hn::MulAdd(hn::Sub(place, at), hn::Sub(b, a), a);
  };
  for (size_t i = 0; i < kChunkSize; i += hn::Lanes(kF)) {
    const V r = load(&below.plane[0][i]), g = load(&below.plane[1][i]), b = load(&below.plane[2][i]);
    for (size_t p = 0; p < 3; ++p) {
      const auto& m = matrix.row[p];
      const V v = hn::MulAdd(
          hn::Set(kF, m[0]), r,
          hn::MulAdd(hn::Set(kF, m[1]), g, hn::MulAdd(hn::Set(kF, m[2]), b, hn::Set(kF, 65535 * m[3]))));
      const V whole = hn::Min(hn::Max(v, low), high);
      store(curved ? onCurve(whole) : whole, &out.plane[p][i]);
    }
  }
}

}  // namespace HWY_NAMESPACE
}  // namespace juvenor
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace juvenor {
namespace {

HWY_EXPORT(multiplyInLanes);

// Between the two places of the table around a value.
uint16_t curved(const std::vector<uint16_t>& table, uint16_t value) {
  const uint32_t place = value * static_cast<uint32_t>(kCurveSteps - 1);
  const uint32_t at = place / 65535, rest = place % 65535;
  if (at + 1 >= kCurveSteps) return table.back();
  return static_cast<uint16_t>(table[at] + (static_cast<int64_t>(table[at + 1]) - table[at]) * rest / 65535);
}

}  // namespace

std::vector<float> curveOfValues(const std::vector<uint16_t>& table) {
  std::vector<float> out;
  if (table.empty()) return out;
  out.resize(65536);
  for (size_t v = 0; v < out.size(); ++v) out[v] = curved(table, static_cast<uint16_t>(v));
  return out;
}

std::vector<float> curveNumbers(const Adjust& adjust) {
  const std::vector<uint16_t> table = curveTable(adjust.curve);
  return {table.begin(), table.end()};
}

void adjustChunk(const ColorMatrix& matrix, std::span<const float> curve, const ColorChunk& below,
                 ColorChunk& out) {
  HWY_DYNAMIC_DISPATCH(multiplyInLanes)(matrix, curve, below, out);
  out.plane[3] = below.plane[3];
}

}  // namespace juvenor
#endif
