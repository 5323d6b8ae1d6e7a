// CIE 1931 XYZ, CIELAB (CIE 15, white D65) and the CIEDE2000 colour difference.
// Sources: IEC 61966-2-1 (matrix), CIE 15 (Lab), Sharma, Wu, Dalal 2005 (ΔE2000).
#pragma once

#include "core/color/srgb.h"

namespace juvenor {

/// Tristimulus values, Y of white = 1.
struct Xyz {
  double x = 0, y = 0, z = 0;
};

/// CIELAB under D65: L 0…100, a and b roughly −128…127.
struct Lab {
  double l = 0, a = 0, b = 0;
};

/// The D65 white of sRGB: row sums of the matrix, so that white is exactly a = b = 0.
Xyz whiteD65();
Xyz toXyz(const LinearColor& color);
LinearColor fromXyz(const Xyz& xyz);
Lab toLab(const Xyz& xyz);
Xyz fromLab(const Lab& lab);
Lab toLab(const EncodedColor& color);

/// CIEDE2000 with kL = kC = kH = 1; about 1 is just noticeable.
double deltaE2000(const Lab& first, const Lab& second);

/// Individual typology angle in degrees (Chardon, Cretois, Hourseau 1991): skin colour from light to dark.
double typologyAngle(const Lab& lab);

}  // namespace juvenor
