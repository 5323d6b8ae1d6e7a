// The layers as they were at one moment, kept in the document: to look at beside the work, and to paint back
// from. They share every chunk with the layers they were kept of, and have numbers of their own, so that the
// file, the journal and refining treat them as any layer.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/layers/layer.h"

namespace juvenor {

struct Checkpoint {
  uint32_t id = 0;
  std::string name;
  int64_t time = 0;          ///< seconds since 1970 began (UTC); 0: not known
  LayerStack layers;         ///< bottom first
  std::vector<uint32_t> of;  ///< as long: the numbers of the layers they were kept of
  EncodedColor bare;         ///< the sculpt's own tone then
  bool operator==(const Checkpoint&) const = default;
};

/// A time as a file says it: one that no clock has shown is not known.
inline int64_t saneTime(int64_t seconds) {
  constexpr int64_t kLast = int64_t{1} << 40;
  return seconds < 0 || seconds > kLast ? 0 : seconds;
}

/// What was kept of a layer, by the layer's own number; null when there was no such layer then.
LayerPointer keptOf(const Checkpoint& checkpoint, uint32_t layer);

}  // namespace juvenor
