#include "core/layers/straight_chunk.h"

#include <algorithm>

namespace juvenor {

bool isOpaque(const ColorChunk& chunk) {
  return std::ranges::all_of(chunk.plane[3], [](uint16_t a) { return a == 65535; });
}

ColorChunk straightened(const ColorChunk& premultiplied) {
  ColorChunk out;
  for (size_t p = 0; p < 3; ++p)
    for (size_t i = 0; i < kChunkSize; ++i) {
      const float alpha = premultiplied.plane[3][i];
      const float v =
          alpha > 0 ? static_cast<float>(premultiplied.plane[p][i]) * (65535.f / alpha) + 0.5f : 0.f;
      out.plane[p][i] = static_cast<uint16_t>(static_cast<int>(std::min(v, 65535.f)));
    }
  for (size_t i = 0; i < kChunkSize; ++i) out.plane[3][i] = premultiplied.plane[3][i] > 0 ? 65535 : 0;
  return out;
}

void coverBy(ColorChunk& opaque, const std::array<uint16_t, kChunkSize>& alpha) {
  for (size_t p = 0; p < 3; ++p)
    for (size_t i = 0; i < kChunkSize; ++i)
      opaque.plane[p][i] = static_cast<uint16_t>((uint32_t{opaque.plane[p][i]} * alpha[i] + 32767u) / 65535u);
  opaque.plane[3] = alpha;
}

}  // namespace juvenor
