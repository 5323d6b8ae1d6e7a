// Oklab and its polar form (Björn Ottosson 2020): even steps of lightness, chroma and hue for the mixer.
#pragma once

#include "core/color/srgb.h"

namespace juvenor {

/// L 0…1, a and b about ±0.4.
struct Oklab {
  float l = 0, a = 0, b = 0;
};

/// Lightness 0…1, chroma 0…about 0.33 inside sRGB, hue in degrees 0…360.
struct Oklch {
  float l = 0, c = 0, h = 0;
};

Oklab toOklab(const LinearColor& color);
LinearColor fromOklab(const Oklab& lab);
Oklch toOklch(const Oklab& lab);
Oklab fromOklch(const Oklch& lch);

Oklch toOklch(const EncodedColor& color);

/// True when every channel of the linear colour lies in 0…1 (with a rounding allowance).
bool insideSrgb(const LinearColor& color);

/// The largest chroma inside sRGB at this lightness and hue.
float largestChroma(float lightness, float hue);

/// Encoded colour of `lch`; outside the gamut chroma is lowered until it fits, lightness and hue stay.
EncodedColor toEncoded(const Oklch& lch);

}  // namespace juvenor
