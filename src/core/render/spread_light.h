// What all samples receive made into what leaves the skin: spread along it, and glowing through thin forms.
#pragma once

#include "core/render/lighting.h"
#include "core/surface/maps/surface_maps.h"

namespace juvenor {

/// Takes seconds on large surfaces; may be cancelled. The result is for Lighting::takeSpread.
Result<std::vector<ReceivedLight>> spreadLight(const Lighting::Received& received, SurfaceMaps& maps,
                                               const Progress& progress = {});

}  // namespace juvenor
