// What carrying is told by, and what it tells, as files and scripts say it.
#pragma once

#include <nlohmann/json.hpp>

#include "core/carry/carry_over.h"

namespace juvenor {

/// {"pins": [{"name": "nose", "old": [0, 4, 9], "new": [0, 4.2, 9.4]}], "parts": {"Head": ["body"]},
/// "checkpoints": false, "keep-lost": false, "reach": 12}: places in the scenes of both sculpts, for parts of
/// the new one those of the old. Parts that are not named are paired as usual. What is not given stays as
/// it is.
Result<CarrySetting> carrySettingFrom(const nlohmann::json& json, const Sculpt& old, const Sculpt& fresh);

nlohmann::json toJson(const CarryReport& report);
/// "98.2 % sure, 1.5 % in doubt, 0.3 % unknown".
std::string sentenceOf(const CarryReport& report);

}  // namespace juvenor
