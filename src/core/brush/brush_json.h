// Brushes as JSON: in scripts and in the sets of a brush roll. Lengths are in scene units here; a roll keeps
// them in millimetres.
#pragma once

#include <functional>
#include <nlohmann/json.hpp>

#include "core/brush/brush.h"
#include "core/json_fields.h"

namespace juvenor {

/// Everything but mirror, parts and the pen's curve, which belong to the hand and not to the brush. A stamp
/// is told by name.
nlohmann::json toJson(const Brush& brush);

/// Gives the stamp of a name, or says why not.
using StampLookup = std::function<Result<StampPointer>(const std::string&)>;

/// Changes what the JSON names; lengths are told as toJson does. The error says which value is wrong.
Outcome readBrush(const nlohmann::json& json, const StampLookup& stamps, Brush& brush);

/// The same brush on a sculpt where everything is so many times as large.
Brush scaled(const Brush& brush, float factor);

}  // namespace juvenor
