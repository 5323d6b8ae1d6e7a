// The noise hue zones are broken up with. It lies still on the skin whatever zone is moved over it, so it is
// worked out once, where a zone asks for it.
#pragma once

#include <memory>
#include <mutex>
#include <vector>

#include "core/layers/field.h"
#include "core/surface/surface.h"

namespace juvenor {

class ZoneNoise {
 public:
  /// `grain`: the size of its largest features, scene units.
  ZoneNoise(std::shared_ptr<const Surface> surface, float grain);

  struct Value {
    float edge;    ///< −1…1, moves the edge in and out
    float mottle;  ///< 0…1, takes away inside
  };
  /// Any thread may ask.
  Value at(uint32_t sample) const;

 private:
  struct Chunk {
    std::array<int16_t, kChunkSize> edge;
    std::array<uint16_t, kChunkSize> mottle;
  };
  std::unique_ptr<const Chunk> workedOut(size_t chunk) const;

  std::shared_ptr<const Surface> surface_;
  float grain_;
  mutable std::vector<std::once_flag> asked_;
  mutable std::vector<std::unique_ptr<const Chunk>> chunks_;
};

}  // namespace juvenor
