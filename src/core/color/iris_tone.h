// The colour of an iris from the melanin in it: light that a stroma without pigment scatters back, bluish
// since short waves scatter more, goes through the melanin in front of it twice; much melanin is brown by
// itself.
#pragma once

#include "core/color/lab.h"
#include "core/color/spectra.h"

namespace juvenor {

/// Reflectance at every band, 0…1. `melanin`: 0 blue … about 0.4 green and hazel … 1 nearly black.
std::array<double, kBandCount> irisReflectance(float melanin);
/// The same as a colour under D65.
EncodedColor irisColor(float melanin);

}  // namespace juvenor
