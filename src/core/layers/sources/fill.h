// One colour everywhere; its chunk is the same for every place and is shared.
#pragma once

#include "core/layers/source.h"

namespace juvenor {

Result<SourcePointer> readFill(const nlohmann::json& parameters, size_t samples);

}  // namespace juvenor
