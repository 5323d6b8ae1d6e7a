// The colour of skin from what is in it: melanin in a thin layer above, blood and yellow pigment in a deep
// one below, worked out band by band of the spectrum.
#pragma once

#include <optional>

#include "core/color/lab.h"
#include "core/color/spectra.h"

namespace juvenor {

/// Each 0…1: melanin from palest to darkest and blood from bloodless to flushed in even ratios, yellow
/// (carotene, bilirubin) from none to sallow in even steps.
struct SkinTone {
  float melanin = 0.4f, blood = 0.45f, yellow = 0.15f;
  bool operator==(const SkinTone&) const = default;
};

/// Share of the upper layer that is melanosomes, and of the lower one that is blood.
double melanosomeFraction(float melanin);
double bloodFraction(float blood);

/// Reflectance at every band, 0…1, the skin's own gloss included.
std::array<double, kBandCount> skinReflectance(const SkinTone& tone);
/// What a reflectance looks like to the CIE 1931 observer under D65; Y of a perfect white is 1.
Xyz xyzOfReflectance(const std::array<double, kBandCount>& reflectance);

/// The tone in CIELAB, relative to the white of D65.
Lab labOf(const SkinTone& tone);
/// The tone as a colour; all tones lie inside sRGB.
EncodedColor colorOf(const SkinTone& tone);

/// The tone nearest to a colour (ΔE2000), and how far it is; with `yellow`, of those with that much of it.
struct NearestTone {
  SkinTone tone;
  double difference = 0;
};
NearestTone nearestTone(const EncodedColor& color, std::optional<float> yellow = {});

/// The published class of a typology angle: very light, light, intermediate, tan, brown, dark.
std::string_view typologyClass(double degrees);

}  // namespace juvenor
