// Hue zones as the content of a layer.
#pragma once

#include "core/layers/source.h"

namespace juvenor {

Result<SourcePointer> readZones(const nlohmann::json& parameters, size_t samples);

}  // namespace juvenor
