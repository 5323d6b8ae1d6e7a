// What a filter makes of one chunk of a channel: whatever planes it has, those are values and one may say how
// much they cover.
#pragma once

#include "core/layers/filters/filter.h"

namespace juvenor {

/// A filter's settings with what is prepared for it on one surface.
struct FilterWork {
  Filter::Way way = Filter::Way::Melt;
  float amount = 0;
  bool broad = false;
  PlaneFilterPointer near;  ///< what melts, or pulls
  PlaneFilterPointer wide;  ///< of EvenOut: what says how it is all around; else null

  bool operator==(const FilterWork&) const = default;
};

/// `below`: the chunk itself as it lies in `ground`. Null where there is nothing to filter with: what
/// SwapDetail should look at is not apart from anything.
template <Channel C>
std::shared_ptr<Chunk<factsOf(C).planes()>> filteredChunk(const FilterWork& work, size_t index,
                                                          const LayerGround& ground,
                                                          const Chunk<factsOf(C).planes()>& below);

}  // namespace juvenor
