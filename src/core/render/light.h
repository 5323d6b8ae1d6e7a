// The lights one can judge colour under. Default is an overcast sky (Moon and Spencer 1942, CIE standard
// overcast sky: the zenith three times as bright as the horizon) with a soft bright patch that the dial
// turns, and some light from the ground. All neutral grey, so that no light tints the skin.
#pragma once

#include "core/render/harmonics.h"

namespace juvenor {

struct Light {
  float dial = 40;  ///< degrees around the upright axis; 0 lights from the front, 90 from the right
  float patch = 1;  ///< brightness of the patch; 0 is a bare overcast sky

  bool operator==(const Light&) const = default;
};

/// Unit direction toward the middle of the bright patch.
Vec3 patchDirection(const Light& light);

/// Radiance toward `direction`, scaled so that a wall facing the viewer at dial 0 receives about one.
float radiance(const Light& light, const Vec3& direction);

/// The light as nine numbers; for irradiance nothing more is needed.
Harmonics harmonicsOf(const Light& light);

}  // namespace juvenor
