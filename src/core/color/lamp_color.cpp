#include "core/color/lamp_color.h"

#include <algorithm>
#include <cmath>

#include "core/color/lab.h"
#include "core/color/spectra.h"

namespace juvenor {
namespace {

std::array<double, 2> daylight(double t) {
  const double x = t <= 7000 ? ((-4.6070e9 / t + 2.9678e6) / t + 0.09911e3) / t + 0.244063
                             : ((-2.0064e9 / t + 1.9018e6) / t + 0.24748e3) / t + 0.237040;
  return {x, (-3 * x + 2.87) * x - 0.275};
}

std::array<double, 2> blackBody(double t) {
  constexpr double kSecondRadiation = 1.4388e-2;  // m K, of ITS-90 as CIE 15 has it
  double sum[3]{};
  for (int band = 0; band < kBandCount; ++band) {
    const double nanometres = bandNanometres(band), metres = nanometres * 1e-9;
    const double power = std::pow(nanometres / 560, -5) / std::expm1(kSecondRadiation / (metres * t));
    const auto b = static_cast<size_t>(band);
    sum[0] += power * kObserverX[b];
    sum[1] += power * kObserverY[b];
    sum[2] += power * kObserverZ[b];
  }
  const double all = sum[0] + sum[1] + sum[2];
  return {sum[0] / all, sum[1] / all};
}

}  // namespace

std::array<double, 2> lampChromaticity(float kelvin) {
  const double t = std::clamp(kelvin, kWarmestKelvin, kCoolestKelvin);
  return t >= 4000 ? daylight(t) : blackBody(t);
}

LinearColor lampColor(float kelvin) {
  const auto [x, y] = lampChromaticity(kelvin);
  LinearColor c = fromXyz({x / y, 1, (1 - x - y) / y});
  for (float* v : {&c.r, &c.g, &c.b}) *v = std::max(0.f, *v);
  const float luminance = 0.2126f * c.r + 0.7152f * c.g + 0.0722f * c.b;
  return {c.r / luminance, c.g / luminance, c.b / luminance};
}

}  // namespace juvenor
