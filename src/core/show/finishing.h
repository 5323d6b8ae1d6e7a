// What a lens and film add to a picture, by little: light that blooms around what is bright, corners that
// darken, grain. All of it in linear light, none of it by default.
#pragma once

#include "core/show/still_picture.h"

namespace juvenor {

struct Finishing {
  float bloom = 0;  ///< 0…1: how much of the light is scattered around where it belongs; 1 is a quarter of it
  float vignette = 0;  ///< 0…1: at 1 the corners have lost two stops
  float grain = 0;     ///< 0…1: at 1 it is a deviation of a tenth of the light
  uint32_t seed = 1;   ///< of the grain; another one for each picture of a film

  bool any() const { return bloom > 0 || vignette > 0 || grain > 0; }
  bool operator==(const Finishing&) const = default;
};

/// Changes the light of a picture; what is covered stays covered. The mean light of a picture whose edges are
/// dark stays with bloom alone.
void finish(StillPicture& picture, const Finishing& finishing);

}  // namespace juvenor
