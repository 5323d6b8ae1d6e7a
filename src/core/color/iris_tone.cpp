// Melanin absorbs as λ^−3.33 (Jacques 2013, as in skin_tone.cpp). How much a stroma scatters, and by which
// power of the wavelength, are this model's own settings (from memory): between the fourth power of the
// finest fibrils and none of coarse ones.
#include "core/color/iris_tone.h"

#include <algorithm>
#include <cmath>

#include "core/color/skin_tone.h"

namespace juvenor {
namespace {

constexpr double kScatters = 0.17, kPower = 2.4;  // of the stroma, at 450 nm
constexpr double kGrey = 0.035;                   // coarse fibres, alike at all wavelengths
constexpr double kDensest = 2.6;                  // of all melanin, at 550 nm
constexpr double kBrown = 0.05;                   // what thick melanin sends back, at 650 nm

}  // namespace

std::array<double, kBandCount> irisReflectance(float melanin) {
  const double m = std::clamp(static_cast<double>(melanin), 0.0, 1.0);
  std::array<double, kBandCount> out{};
  for (int band = 0; band < kBandCount; ++band) {
    const double nm = bandNanometres(band);
    const double stroma = kGrey + kScatters * std::pow(450 / nm, kPower);
    const double film = std::exp(-2 * kDensest * std::pow(m, 1.5) * std::pow(550 / nm, 3.33));
    out[static_cast<size_t>(band)] = stroma * film + kBrown * m * (1 - 0.6 * m) * std::pow(nm / 650, 4);
  }
  return out;
}

EncodedColor irisColor(float melanin) {
  const EncodedColor c = encode(fromXyz(xyzOfReflectance(irisReflectance(melanin))));
  const auto unit = [](float v) { return std::clamp(v, 0.f, 1.f); };
  return {unit(c.r), unit(c.g), unit(c.b)};
}

}  // namespace juvenor
