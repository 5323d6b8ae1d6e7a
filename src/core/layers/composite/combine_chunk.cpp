#include "core/layers/composite/combine_chunk.h"

#include <algorithm>
#include <cmath>

namespace juvenor {
namespace {

// The loops are plain enough for the compiler to work on several values at once.
constexpr float kUnit = 1.f / 65535.f;

template <class Combined>
void eachSample(const ScalarChunk* mask, float amount, Combined combined) {
  if (mask)
    for (size_t i = 0; i < kChunkSize; ++i)
      combined(i, amount * (static_cast<float>(mask->plane[0][i]) * kUnit));
  else
    for (size_t i = 0; i < kChunkSize; ++i) combined(i, amount);
}

}  // namespace

void combineChunk(CoverChunk& below, const CoverChunk& source, const ScalarChunk* mask, float amount,
                  ChannelMode mode) {
  if (mode == ChannelMode::Multiply)
    return eachSample(mask, amount, [&](size_t i, float scale) {
      const float cover = static_cast<float>(source.plane[1][i]) * kUnit * scale;
      const float times = 1 - cover + static_cast<float>(source.plane[0][i]) * kUnit * scale;
      below.plane[0][i] =
          static_cast<uint16_t>(static_cast<int>(static_cast<float>(below.plane[0][i]) * times + 0.5f));
    });
  eachSample(mask, amount, [&](size_t i, float scale) {
    const float keep = 1 - static_cast<float>(source.plane[1][i]) * kUnit * scale;
    for (size_t p = 0; p < 2; ++p) {
      const float over =
          static_cast<float>(below.plane[p][i]) * keep + static_cast<float>(source.plane[p][i]) * scale;
      below.plane[p][i] = static_cast<uint16_t>(static_cast<int>(std::min(over + 0.5f, 65535.f)));
    }
  });
}

void combineChunk(ScalarChunk& below, const ScalarChunk& source, const ScalarChunk* mask, float amount,
                  ChannelMode mode) {
  if (mode > ChannelMode::Multiply) {
    const float sign = amount < 0 ? -1.f : 1.f;
    return eachSample(mask, amount * sign, [&](size_t i, float scale) {
      if (source.plane[0][i] == kLevel) return;
      const float was = below.plane[0][i];
      const float own = static_cast<float>(kLevel) +
                        sign * (static_cast<float>(source.plane[0][i]) - static_cast<float>(kLevel));
      const float to = mode == ChannelMode::Higher  ? std::max(was, own)
                       : mode == ChannelMode::Lower ? std::min(was, own)
                                                    : own;
      below.plane[0][i] =
          static_cast<uint16_t>(static_cast<int>(std::clamp(was + (to - was) * scale + 0.5f, 0.f, 65535.f)));
    });
  }
  eachSample(mask, amount, [&](size_t i, float scale) {
    const float sum = static_cast<float>(below.plane[0][i]) +
                      (static_cast<float>(source.plane[0][i]) - static_cast<float>(kLevel)) * scale;
    below.plane[0][i] = static_cast<uint16_t>(static_cast<int>(std::clamp(sum + 0.5f, 0.f, 65535.f)));
  });
}

}  // namespace juvenor
