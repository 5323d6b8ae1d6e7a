// A glimpse of a pattern whose setting is being changed: it grows on a few chunks in view, by the very code
// it grows with everywhere, and shows there while all of it is still to grow. Everywhere else it stays as it
// was.
#pragma once

#include "core/layers/source.h"
#include "core/surface/cut_out.h"

namespace juvenor {

/// Above so many samples a pattern takes long enough for a glimpse to be worth while.
inline constexpr size_t kGlimpsedAbove = 200'000;

/// Whether a source is one that grows, has not grown yet, and all it needs of the whole surface is there.
bool wantsGlimpse(const LayerSource& source, SurfaceMaps& maps);

class Glimpse {
 public:
  /// On some chunks (ascending) of the surface of `whole`.
  Glimpse(SurfaceMapsPointer whole, std::vector<uint32_t> chunks);

  bool isOf(const SurfaceMapsPointer& whole) const { return whole == whole_; }
  bool isOf(const SurfaceMapsPointer& whole, std::span<const uint32_t> chunks) const;
  /// What a source comes to on those chunks; null where it cannot be worked out there.
  PreparedSourcePointer of(const LayerSource& source);
  std::span<const uint32_t> chunks() const { return maps_->cut()->chunks; }

 private:
  SurfaceMapsPointer whole_, maps_;
};

/// The first chunks of `seen`, those nearest to the middle of a picture before others: at most `most`,
/// ascending.
std::vector<uint32_t> chunksToGlimpse(std::span<const uint32_t> seen, size_t most);

/// What shows while a source is still to grow: `fresh`, which a glimpse gave, on its chunks, and `before`
/// (null: nothing) elsewhere. A glimpse in `before` is forgotten.
PreparedSourcePointer glimpsed(PreparedSourcePointer fresh, std::span<const uint32_t> chunks,
                               PreparedSourcePointer before);

}  // namespace juvenor
