// The light of a photo on a form whose normals are known: nine numbers a colour over harmonics (Ramamoorthi,
// Hanrahan 2001), fitted to what is seen over each normal as if all skin had one tone. What deviates (lips,
// hair, highlights) counts less and less, by Tukey's biweight.
#pragma once

#include <span>

#include "core/photo/slide_tone.h"
#include "core/vec.h"

namespace juvenor {

/// A place of the form as the photo shows it, in linear light; the normal in the view's axes.
struct LitSpot {
  Vec3 normal;
  LinearColor color;
  float weight = 1;
};

/// An error where there are too few spots, or they all face one way.
Result<LightNumbers> fittedLight(std::span<const LitSpot> spots);

}  // namespace juvenor
