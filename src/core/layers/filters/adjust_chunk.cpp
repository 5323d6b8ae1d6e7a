// A matrix on encoded colours for as many samples at once as the machine's registers hold, then the curve:
// one look into a table a value, of which a skin needs a few kilobytes. (Gathering from a small table in
// lanes, two places a value, took twice as long.)
#include "core/layers/filters/adjust.h"

#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/layers/filters/adjust_chunk.cpp"
#include <hwy/foreach_target.h>
// foreach_target must come before highway
#include <hwy/highway.h>

#include "core/color/srgb-inl.h"

HWY_BEFORE_NAMESPACE();
namespace juvenor {
namespace HWY_NAMESPACE {

void multiplyInLanes(const ColorMatrix& matrix, const ColorChunk& below, ColorChunk& out) {
  const V low = hn::Zero(kF), high = hn::Set(kF, 65535.f);
  for (size_t i = 0; i < kChunkSize; i += hn::Lanes(kF)) {
    const V r = load(&below.plane[0][i]), g = load(&below.plane[1][i]), b = load(&below.plane[2][i]);
    for (size_t p = 0; p < 3; ++p) {
      const auto& m = matrix.row[p];
      const V v = hn::MulAdd(
          hn::Set(kF, m[0]), r,
          hn::MulAdd(hn::Set(kF, m[1]), g, hn::MulAdd(hn::Set(kF, m[2]), b, hn::Set(kF, 65535 * m[3]))));
      store(hn::Min(hn::Max(v, low), high), &out.plane[p][i]);
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

}  // namespace

std::vector<uint16_t> curveOfValues(const std::vector<uint16_t>& table) {
  std::vector<uint16_t> out;
  if (table.empty()) return out;
  out.resize(65536);
  for (size_t v = 0; v < out.size(); ++v) {
    // between the two places of the table around it
    const size_t place = v * (kCurveSteps - 1), at = std::min(place / 65535, kCurveSteps - 2);
    const float part = static_cast<float>(place - at * 65535) / 65535;
    out[v] = static_cast<uint16_t>(
        std::lround(static_cast<float>(table[at]) * (1 - part) + static_cast<float>(table[at + 1]) * part));
  }
  return out;
}

void adjustChunk(const ColorMatrix& matrix, std::span<const uint16_t> curve, const ColorChunk& below,
                 ColorChunk& out) {
  HWY_DYNAMIC_DISPATCH(multiplyInLanes)(matrix, below, out);
  for (size_t p = 0; p < 3 && !curve.empty(); ++p)
    for (uint16_t& v : out.plane[p]) v = curve[v];
  out.plane[3] = below.plane[3];
}

}  // namespace juvenor
#endif
