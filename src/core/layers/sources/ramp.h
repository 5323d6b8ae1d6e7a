// Surface maps through a row of colours: rubbed light on the ridges, darker toward the feet.
#pragma once

#include "core/layers/color_ramp.h"
#include "core/layers/source.h"

namespace juvenor {

Result<SourcePointer> readRamp(const nlohmann::json& parameters, size_t samples);

}  // namespace juvenor
