// The blend modes and source-over for one pixel, in float: the plain reading of the specification.
// W3C Compositing and Blending Level 1 (sixteen modes, on encoded values), Porter and Duff 1984
// (source-over); Divide is common practice; Stain is a thin absorbing film by the Beer-Lambert law, in linear
// light. Blood, Melanin and Yellow add what is in skin by the skin model, and Lift takes it away; of their
// layers alpha alone counts, all of it being half of a control's range (color/skin_tint.h).
// layers/blend_chunk.h does the same for 4,096 samples at once and is tested against this.
#pragma once

#include <array>
#include <optional>
#include <string_view>

namespace juvenor {

enum class BlendMode {
  Normal,
  Multiply,
  Screen,
  Overlay,
  Darken,
  Lighten,
  ColorDodge,
  ColorBurn,
  HardLight,
  SoftLight,
  Difference,
  Exclusion,
  Hue,
  Saturation,
  Color,
  Luminosity,
  Divide,
  Stain,
  Blood,
  Melanin,
  Yellow,
  LiftBlood,
  LiftMelanin,
  LiftYellow,
};
inline constexpr int kBlendModeCount = 24;

/// A premultiplied sRGB-encoded pixel, all channels 0…1.
struct Pixel {
  float r = 0, g = 0, b = 0, a = 0;
};

/// The darkest film Stain knows: an optical density of 2.5, so that a breath of black is a breath.
inline constexpr float kDarkestFilm = 0.0031622777f;

/// Colour burn keeps a full backdrop full; what dividing by alpha rounds off must not turn it black.
inline constexpr float kFullBackdrop = 0.999999f;

/// `source` composited onto `backdrop` with the mode; for Stain the source's alpha is the depth of the film,
/// for those of the skin model the amount: they bring nothing to where there is nothing.
Pixel blend(BlendMode mode, const Pixel& backdrop, const Pixel& source);

/// What a mode of the skin model moves, or null for the other modes.
class SkinTint;
const SkinTint* skinTintOf(BlendMode mode);
/// The same without asking for the table.
constexpr bool isSkinTint(BlendMode mode) {
  return mode >= BlendMode::Blood;
}

/// The name in files and scripts ("soft-light"), and the one in the window ("Soft light").
std::string_view blendModeKey(BlendMode mode);
std::string_view blendModeLabel(BlendMode mode);
std::optional<BlendMode> blendModeFromKey(std::string_view key);

}  // namespace juvenor
