// A sheet one can paint on: a colour field, nothing else.
#pragma once

#include "core/layers/source.h"

namespace juvenor {

Result<SourcePointer> readPainted(const nlohmann::json& parameters, size_t samples);

}  // namespace juvenor
