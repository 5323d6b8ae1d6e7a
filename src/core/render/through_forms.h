// Where light comes through thin forms of a surface, measured once and kept with its maps.
#pragma once

#include "core/render/wandering_light.h"
#include "core/surface/maps/surface_maps.h"

namespace juvenor {

using ThroughForms = std::vector<ThroughForm>;

/// For every sample; forms thicker than `most` (scene units) let nothing through. An error when there are no
/// rays.
Result<std::shared_ptr<const ThroughForms>> throughForms(SurfaceMaps& maps, float most);

}  // namespace juvenor
