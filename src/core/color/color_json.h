// Colours in files, scripts and parameters of layers.
#pragma once

#include "core/color/srgb.h"
#include "core/json_fields.h"

namespace juvenor {

/// [red, green, blue], each 0…1, sRGB-encoded.
nlohmann::json toJson(const EncodedColor& color);
/// The same, or "#rrggbb"; nothing when it is neither, or a number is not finite.
std::optional<EncodedColor> colorFromJson(const nlohmann::json& json);
/// The same for fields of an object: `JsonFields::value("tint", tint, kJsonColor)`.
inline constexpr JsonReader<EncodedColor> kJsonColor{colorFromJson,
                                                     "\"#rrggbb\" or [red, green, blue] from 0 to 1"};

}  // namespace juvenor
