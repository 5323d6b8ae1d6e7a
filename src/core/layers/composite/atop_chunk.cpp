#include "core/layers/composite/atop_chunk.h"

#include <algorithm>

#include "core/layers/composite/blend_chunk.h"
#include "core/layers/composite/combine_chunk.h"
#include "core/layers/straight_chunk.h"

namespace juvenor {
namespace {

constexpr float kPer16 = 1.f / 65535.f;

float scaleAt(const ScalarChunk* mask, float amount, size_t i) {
  return mask ? amount * (static_cast<float>(mask->plane[0][i]) * kPer16) : amount;
}

uint16_t rounded(float v, float most = 65535.f) {
  return static_cast<uint16_t>(static_cast<int>(std::clamp(v + 0.5f, 0.f, most)));
}

// What is shown beyond the base's own alpha.
float beyond(const ScalarChunk* cover, uint16_t alpha, size_t i) {
  return cover ? std::max(0.f, (static_cast<float>(cover->plane[0][i]) - static_cast<float>(alpha)) * kPer16)
               : 0.f;
}

// The base's colours opaque, with the source mixed into them.
ColorChunk mixedInto(BlendMode mode, const ColorChunk& straight, const ColorChunk& source,
                     const ScalarChunk* mask, float amount) {
  ColorChunk out = straight;
  blendChunk(mode, out, source, mask, amount);
  return out;
}

}  // namespace

void atopChunk(BlendMode mode, ColorChunk& base, const ColorChunk& source, const ScalarChunk* mask,
               float amount, const ScalarChunk* cover) {
  const bool tints = mode >= BlendMode::Stain, plain = mode == BlendMode::Normal;
  const ColorChunk straight = straightened(base);
  const ColorChunk mixed = mixedInto(mode, straight, source, mask, amount);
  std::optional<ColorChunk> normal;
  if (!tints && !plain) normal = mixedInto(BlendMode::Normal, straight, source, mask, amount);
  for (size_t i = 0; i < kChunkSize; ++i) {
    const uint16_t whole = base.plane[3][i];
    const float alpha = static_cast<float>(whole) * kPer16, more = tints ? 0.f : beyond(cover, whole, i);
    if (alpha == 0 && more == 0) continue;
    const float scale = scaleAt(mask, amount, i);
    const float out = static_cast<float>(whole) + more * scale * static_cast<float>(source.plane[3][i]);
    const uint16_t alphaOut = more > 0 ? rounded(out) : whole;
    for (size_t p = 0; p < 3; ++p) {
      float inside = static_cast<float>(mixed.plane[p][i]);
      if (normal) inside = alpha * inside + (1 - alpha) * static_cast<float>(normal->plane[p][i]);
      const float sum = alpha * inside + more * scale * static_cast<float>(source.plane[p][i]);
      base.plane[p][i] = rounded(sum, alphaOut);
    }
    base.plane[3][i] = alphaOut;
  }
}

void atopChunk(CoverChunk& base, const CoverChunk& source, const ScalarChunk* mask, float amount,
               const ScalarChunk* cover) {
  for (size_t i = 0; i < kChunkSize; ++i) {
    const uint16_t whole = base.plane[1][i];
    const float inside = static_cast<float>(whole) * kPer16, more = beyond(cover, whole, i);
    const float scale = scaleAt(mask, amount, i);
    const float alpha = static_cast<float>(source.plane[1][i]) * kPer16 * scale;
    const float shown = (inside + more) * scale;
    base.plane[0][i] = rounded(static_cast<float>(base.plane[0][i]) * (1 - alpha) +
                               static_cast<float>(source.plane[0][i]) * shown);
    if (more > 0) base.plane[1][i] = rounded(static_cast<float>(whole) + alpha * more * 65535.f);
  }
}

void atopChunk(ScalarChunk& base, const ScalarChunk& source, const ScalarChunk* mask, float amount,
               const ScalarChunk* cover, ChannelMode mode) {
  ScalarChunk both;
  combineChunk(base, source, cover ? &multiplied(*cover, mask, both) : mask, amount, mode);
}

ScalarChunk& multiplied(const ScalarChunk& a, const ScalarChunk* b, ScalarChunk& room) {
  room = a;
  for (size_t i = 0; b && i < kChunkSize; ++i)
    room.plane[0][i] = static_cast<uint16_t>((uint32_t{a.plane[0][i]} * b->plane[0][i] + 32767u) / 65535u);
  return room;
}

template <int Planes>
void mixChunk(Chunk<Planes>& now, const Chunk<Planes>& before, const ScalarChunk* mask, float amount) {
  for (int p = 0; p < Planes; ++p)
    for (size_t i = 0; i < kChunkSize; ++i) {
      const float was = before.plane[p][i], is = now.plane[p][i];
      now.plane[p][i] = rounded(was + (is - was) * scaleAt(mask, amount, i));
    }
}
template void mixChunk<1>(Chunk<1>&, const Chunk<1>&, const ScalarChunk*, float);
template void mixChunk<2>(Chunk<2>&, const Chunk<2>&, const ScalarChunk*, float);
template void mixChunk<4>(Chunk<4>&, const Chunk<4>&, const ScalarChunk*, float);

}  // namespace juvenor
