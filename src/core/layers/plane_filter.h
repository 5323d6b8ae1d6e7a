// Values changed by what lies around them: what filters of colour, gloss, relief and of masks have in common.
#pragma once

#include <array>
#include <memory>
#include <span>

#include "core/surface/field.h"
#include "core/surface/maps/surface_maps.h"

namespace juvenor {

/// Some planes of one chunk, kChunkSize values each; null: nothing but 0.
struct ChunkPlanes {
  std::shared_ptr<const void> hold;  ///< what they lie in
  std::array<const uint16_t*, 3> plane{};
};

/// What a filter looks at, chunk by chunk.
class PlaneGround {
 public:
  virtual ~PlaneGround() = default;
  /// Safe from any thread; what is asked for again unchanged lies where it lay.
  virtual ChunkPlanes at(size_t chunk) const = 0;
};

/// A filter prepared on one surface: which chunks each looks at, and what becomes of one.
class PlaneFilter {
 public:
  virtual ~PlaneFilter() = default;
  /// Ascending, with itself.
  virtual std::span<const uint32_t> around(size_t chunk) const = 0;
  /// Three planes, and a fourth of 65535.
  virtual ColorField::Pointer filtered(size_t index, const PlaneGround& ground) const = 0;
  /// What it holds, for who keeps it.
  virtual size_t bytes() const = 0;
};
using PlaneFilterPointer = std::shared_ptr<const PlaneFilter>;

}  // namespace juvenor
