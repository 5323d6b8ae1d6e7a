// Colours of samples blended between the nodes around each: the inner loop of filters that melt.
#pragma once

#include <array>
#include <span>

#include "core/layers/channels.h"
#include "core/vec.h"

namespace juvenor {

/// Nodes one is blended with, at most.
inline constexpr size_t kMostBlends = 24;

/// The nodes that samples under one are blended with, each number of them in a row; itself first. What is not
/// there is nowhere near.
struct BlendRow {
  static constexpr float kNowhere = 1e18f;
  using Row = std::array<float, kMostBlends>;
  std::array<Row, 3> at, tone;

  BlendRow() {
    for (Row& row : at) row.fill(kNowhere);
    for (Row& row : tone) row.fill(0);
  }
};

/// Opaque colours of samples at `places`, the first of a chunk: each by the row of `rowOf`, a node counting
/// by (1 − r²·perReach2)², the row's first a little wherever it is. Tones 0…65535.
void blendAround(std::span<const BlendRow> rows, std::span<const uint32_t> rowOf, const Vec3* places,
                 float perReach2, ColorChunk& out);

}  // namespace juvenor
