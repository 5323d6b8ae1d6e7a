// The colour of a lamp by its temperature: daylight as the CIE has it from 4000 K up, a black body below.
#pragma once

#include "core/color/srgb.h"

namespace juvenor {

inline constexpr float kWarmestKelvin = 1500, kCoolestKelvin = 20000;

/// Chromaticity x, y (CIE 1931, 2°). Daylight by the polynomials of CIE 15; black bodies by Planck's law over
/// the observer's table. `kelvin` is kept within the two above.
std::array<double, 2> lampChromaticity(float kelvin);

/// Linear, of luminance 1; what sRGB cannot hold is cut at 0.
LinearColor lampColor(float kelvin);

}  // namespace juvenor
