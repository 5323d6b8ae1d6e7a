// The light of a photo on a form that is known: how much comes from each of many ways around it, never less
// than nothing, fitted to what is seen as if all skin had one tone. Shadows that the form casts tell as much
// as how it turns (Sato, Sato, Ikeuchi 2003, illumination from shadows; of the light over normals alone no
// more than nine numbers are left: Ramamoorthi, Hanrahan 2001). What deviates (lips, hair, highlights) counts
// less and less, by Tukey's biweight.
#pragma once

#include <span>

#include "core/photo/slide_tone.h"
#include "core/vec.h"

namespace juvenor {

/// A place of the form as the photo shows it, in linear light.
struct LitSpot {
  Vec3 normal;
  /// What light of one from each way brings there: the cosine to the normal where the way is open, else 0.
  std::array<float, kSkyWays> reach;
  LinearColor color;
  float weight = 1;
};

/// An error where there are too few spots, they all face one way, or it is too dark.
Result<WayLight> fittedLight(std::span<const LitSpot> spots);

}  // namespace juvenor
