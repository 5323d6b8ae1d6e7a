// Which samples lie on an eyeball, and how near lids are to each: what an eye needs of the surface.
#pragma once

#include "core/layers/sources/eyes.h"

namespace juvenor {

struct EyeGround {
  std::vector<uint32_t> samples;  ///< ascending
  std::vector<float> wet;         ///< of each 0…1: how near a lid is

  size_t bytes() const { return bytesHeld(samples) + bytesHeld(wet); }
};

/// `rim`: how far from a lid it counts, scene units. Remembered by `maps`.
Result<std::shared_ptr<const EyeGround>> eyeGround(SurfaceMaps& maps, const EyeBall& ball, float rim);
bool hasEyeGround(SurfaceMaps& maps, const EyeBall& ball, float rim);

}  // namespace juvenor
