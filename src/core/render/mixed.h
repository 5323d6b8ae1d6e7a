// What a pixel shows: a place on a triangle, as its three samples and their weights.
#pragma once

#include "core/layers/channels.h"
#include "core/surface/surface.h"

namespace juvenor {

struct Mixed {
  std::array<float, 3> weight;
  Triangle samples;

  /// Calls `add(sample, weight)` for those that weigh anything.
  template <class Add>
  void each(Add add) const {
    for (size_t k = 0; k < 3; ++k)
      if (weight[k] > 0) add(samples[k], weight[k]);
  }

  /// The sample it is nearest to.
  uint32_t nearest() const {
    const size_t k =
        weight[0] >= weight[1] ? (weight[0] >= weight[2] ? 0 : 2) : (weight[1] >= weight[2] ? 1 : 2);
    return samples[k];
  }
};

/// `u`, `v`: the weights of the second and third sample, 0…1.
inline Mixed mixedAt(const Surface& surface, uint32_t triangle, float u, float v) {
  return {{std::max(0.f, 1 - u - v), u, v}, surface.triangles[triangle]};
}

/// The colour there, encoded, 0…65535 each.
inline std::array<float, 3> encodedAt(const ChannelFields& skin, const Mixed& m) {
  std::array<float, 3> out{};
  m.each([&](uint32_t s, float weight) {
    const auto& chunk = skin.color().chunk(s / kChunkSize);
    for (size_t c = 0; c < 3; ++c) out[c] += weight * static_cast<float>(chunk->plane[c][s % kChunkSize]);
  });
  return out;
}

/// The same as linear sRGB, 0…1 each.
inline Vec3 linearAt(const ChannelFields& skin, const Mixed& m) {
  const auto c = encodedAt(skin, m);
  return {decodeSrgb16(static_cast<uint16_t>(c[0])), decodeSrgb16(static_cast<uint16_t>(c[1])),
          decodeSrgb16(static_cast<uint16_t>(c[2]))};
}

/// A covering channel there, 0…1.
template <Channel C>
float coverAt(const ChannelFields& skin, const Mixed& m) {
  const auto& field = skin.get<C>();
  float sum = 0;
  m.each([&](uint32_t s, float weight) {
    const auto& chunk = field.chunk(s / kChunkSize);
    sum += weight * from16(chunk ? chunk->plane[0][s % kChunkSize] : factsOf(C).bare);
  });
  return sum;
}

}  // namespace juvenor
