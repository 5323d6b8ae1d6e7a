// A row of colours that values 0…1 are looked up in. Between two stops colours go straight in Oklab, so that
// the steps look even.
#pragma once

#include <nlohmann/json.hpp>
#include <vector>

#include "core/color/srgb.h"
#include "core/result.h"

namespace juvenor {

struct RampStop {
  float at = 0;  ///< 0…1
  EncodedColor color;
  float alpha = 1;  ///< 0…1

  bool operator==(const RampStop&) const = default;
};
/// Ascending; one stop at least.
using ColorRamp = std::vector<RampStop>;

/// Premultiplied colours at `steps` even places from 0 to 1.
std::vector<Rgba16> rampTable(const ColorRamp& ramp, size_t steps = 1024);

nlohmann::json toJson(const ColorRamp& ramp);
/// Stops in any order; the error says which is wrong.
Result<ColorRamp> colorRampFrom(const nlohmann::json& json);

}  // namespace juvenor
