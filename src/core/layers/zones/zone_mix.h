// Hue zones at the samples of one chunk, mixed: targets by their weights, weights as coverages, so that the
// order of zones does not matter and no place is pushed further than its strongest zone asks.
#pragma once

#include <span>

#include "core/layers/zones/hue_zone.h"
#include "core/surface/field.h"

namespace juvenor {

/// Sums over the zones, sample by sample.
struct ZoneMix {
  using Plane = std::array<float, kChunkSize>;
  alignas(64) Plane weight{};       ///< of all zones
  alignas(64) Plane shifted{};      ///< of the zones that keep the colour below and push it
  alignas(64) Plane l{}, a{}, b{};  ///< Oklab: weighted plain colours, and weighted pushes
  alignas(64) Plane open;           ///< the part no zone covers

  ZoneMix() { open.fill(1); }
};

/// Adds a zone with its weight (0…1) at some samples of the chunk, by their number on the surface.
void addZone(ZoneMix& mix, const ZoneTint& tint, float strength, std::span<const uint32_t> samples,
             std::span<const float> weights);

/// What the zones make of the opaque colours `below`: premultiplied, encoded.
void mixedColors(const ZoneMix& mix, const ColorChunk& below, ColorChunk& out);

}  // namespace juvenor
