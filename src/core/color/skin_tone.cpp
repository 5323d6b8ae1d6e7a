// Absorption and scattering of skin: Steven Jacques, "Optical properties of biological tissues: a review",
// Physics in Medicine and Biology 58, 2013 (melanosomes 6.6e11·λ^−3.33 /cm, reduced scattering
// 46·(λ/500)^−1.421 /cm; baseline 0.244 + 85.3·exp(−(λ − 154)/66.2) /cm, from memory). Haemoglobin as
// compiled by Prahl, 150 g per litre of blood. Layers by Kubelka and Munk 1931, a sheet upon a half-space.
// The skin's surface by Saunderson 1942: a few per cent are mirrored neutral, and part of the light that
// comes out is sent back in; without it dark tones turn orange. The two bands of carotene and bilirubin
// (peaks 455 and 485 nm), the depth of the upper layer and the reflections are this model's own settings
// (from memory).
#include "core/color/skin_tone.h"

#include <algorithm>
#include <cmath>

namespace juvenor {
namespace {

constexpr double kDepth = 0.008;     // of the upper layer, cm
constexpr double kSaturation = 0.7;  // of the blood with oxygen
constexpr double kMirrored = 0.03;   // neutral reflection at the surface
constexpr double kSentBack = 0.4;    // of light that comes from inside
constexpr double kMostYellow = 4.0;  // absorption of yellow 1 at its peak, 1/cm

double baseline(double nm) {
  return 0.244 + 85.3 * std::exp(-(nm - 154) / 66.2);
}

double scattering(double nm) {
  return 46 * std::pow(nm / 500, -1.421);
}

double upperAbsorption(double nm, double melanosomes) {
  return melanosomes * 6.6e11 * std::pow(nm, -3.33) + (1 - melanosomes) * baseline(nm);
}

double lowerAbsorption(int band, double blood, double yellow) {
  const double nm = bandNanometres(band);
  const auto b = static_cast<size_t>(band);
  const double molar = kSaturation * kOxyHaemoglobin[b] + (1 - kSaturation) * kDeoxyHaemoglobin[b];
  // 150 g/l over 64,500 g/mol, from decades to e-folds
  const double whole = molar * 150 / 64500 * std::log(10.0);
  const auto bell = [nm](double peak, double width) { return std::exp(-std::pow((nm - peak) / width, 2)); };
  return blood * whole + (1 - blood) * baseline(nm) +
         yellow * kMostYellow * (bell(455, 32) + 0.8 * bell(485, 20));
}

// A half-space of absorption a and reduced scattering s: K = 2a, S = ¾s.
double halfSpace(double a, double s) {
  const double ratio = 2 * a / (0.75 * s);
  return 1 + ratio - std::sqrt(ratio * ratio + 2 * ratio);
}

double sheetUpon(double below, double a, double s, double depth) {
  const double bigS = 0.75 * s, ka = 1 + 2 * a / bigS, kb = std::sqrt(ka * ka - 1), x = kb * bigS * depth;
  const double reflected = 1 / (ka + kb / std::tanh(x)),
               passed = kb / (ka * std::sinh(x) + kb * std::cosh(x));
  return reflected + passed * passed * below / (1 - reflected * below);
}

}  // namespace

double melanosomeFraction(float melanin) {
  return 0.005 * std::pow(60.0, static_cast<double>(melanin));
}

double bloodFraction(float blood) {
  return 0.002 * std::pow(50.0, static_cast<double>(blood));
}

std::array<double, kBandCount> skinReflectance(const SkinTone& tone) {
  std::array<double, kBandCount> out{};
  for (int band = 0; band < kBandCount; ++band) {
    const double nm = bandNanometres(band), s = scattering(nm);
    const double below =
        halfSpace(lowerAbsorption(band, bloodFraction(tone.blood), static_cast<double>(tone.yellow)), s);
    const double inside = sheetUpon(below, upperAbsorption(nm, melanosomeFraction(tone.melanin)), s, kDepth);
    out[static_cast<size_t>(band)] =
        kMirrored + (1 - kMirrored) * (1 - kSentBack) * inside / (1 - kSentBack * inside);
  }
  return out;
}

Xyz xyzOfReflectance(const std::array<double, kBandCount>& reflectance) {
  Xyz sum;
  double white = 0;
  for (size_t b = 0; b < kBandCount; ++b) {
    sum.x += kDaylight65[b] * kObserverX[b] * reflectance[b];
    sum.y += kDaylight65[b] * kObserverY[b] * reflectance[b];
    sum.z += kDaylight65[b] * kObserverZ[b] * reflectance[b];
    white += kDaylight65[b] * kObserverY[b];
  }
  return {sum.x / white, sum.y / white, sum.z / white};
}

Lab labOf(const SkinTone& tone) {
  return toLab(xyzOfReflectance(skinReflectance(tone)));
}

EncodedColor colorOf(const SkinTone& tone) {
  const EncodedColor c = encode(fromXyz(xyzOfReflectance(skinReflectance(tone))));
  const auto unit = [](float v) { return std::clamp(v, 0.f, 1.f); };
  return {unit(c.r), unit(c.g), unit(c.b)};
}

NearestTone nearestTone(const EncodedColor& color, std::optional<float> yellow) {
  const Lab wanted = toLab(color);
  NearestTone best{{}, 1e9};
  const auto look = [&](const SkinTone& tone) {
    const double d = deltaE2000(labOf(tone), wanted);
    if (d >= best.difference) return false;
    best = {tone, d};
    return true;
  };
  constexpr int kSteps = 9;
  const auto at = [](int i) { return static_cast<float>(i) / (kSteps - 1); };
  for (int m = 0; m < kSteps; ++m)
    for (int b = 0; b < kSteps; ++b)
      for (int y = 0; y < (yellow ? 1 : 4); ++y)
        look({at(m), at(b), yellow.value_or(static_cast<float>(y) / 3)});
  // from the best of the grid downhill, ever shorter steps along each control
  for (float step = 0.06f; step > 0.0004f;) {
    bool better = false;
    for (float SkinTone::*control : {&SkinTone::melanin, &SkinTone::blood, &SkinTone::yellow})
      for (const float way : {-step, step}) {
        if (yellow && control == &SkinTone::yellow) continue;
        SkinTone next = best.tone;
        next.*control = std::clamp(next.*control + way, 0.f, 1.f);
        better |= look(next);
      }
    if (!better) step *= 0.5f;
  }
  return best;
}

std::string_view typologyClass(double degrees) {
  // Chardon, Cretois, Hourseau 1991
  if (degrees > 55) return "very light";
  if (degrees > 41) return "light";
  if (degrees > 28) return "intermediate";
  if (degrees > 10) return "tan";
  if (degrees > -30) return "brown";
  return "dark";
}

}  // namespace juvenor
