#include "core/layers/straight_chunk.h"

#include <algorithm>

namespace juvenor {

bool isOpaque(const ColorChunk& chunk) {
  return std::ranges::all_of(chunk.plane[3], [](uint16_t a) { return a == 65535; });
}

namespace {

// The last plane says how much the others cover.
template <int Planes>
Chunk<Planes> straightPlanes(const Chunk<Planes>& premultiplied) {
  constexpr size_t kCover = Planes - 1;
  Chunk<Planes> out;
  for (size_t p = 0; p < kCover; ++p)
    for (size_t i = 0; i < kChunkSize; ++i) {
      const float alpha = premultiplied.plane[kCover][i];
      const float v =
          alpha > 0 ? static_cast<float>(premultiplied.plane[p][i]) * (65535.f / alpha) + 0.5f : 0.f;
      out.plane[p][i] = static_cast<uint16_t>(static_cast<int>(std::min(v, 65535.f)));
    }
  for (size_t i = 0; i < kChunkSize; ++i)
    out.plane[kCover][i] = premultiplied.plane[kCover][i] > 0 ? 65535 : 0;
  return out;
}

}  // namespace

ColorChunk straightened(const ColorChunk& premultiplied) {
  return straightPlanes(premultiplied);
}

CoverChunk straightened(const CoverChunk& premultiplied) {
  return straightPlanes(premultiplied);
}

void coverBy(ColorChunk& opaque, const std::array<uint16_t, kChunkSize>& alpha) {
  for (size_t p = 0; p < 3; ++p)
    for (size_t i = 0; i < kChunkSize; ++i)
      opaque.plane[p][i] = static_cast<uint16_t>((uint32_t{opaque.plane[p][i]} * alpha[i] + 32767u) / 65535u);
  opaque.plane[3] = alpha;
}

}  // namespace juvenor
