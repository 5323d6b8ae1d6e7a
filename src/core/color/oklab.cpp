#include "core/color/oklab.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace juvenor {

Oklab toOklab(const LinearColor& c) {
  const float l = std::cbrt(0.4122214708f * c.r + 0.5363325363f * c.g + 0.0514459929f * c.b);
  const float m = std::cbrt(0.2119034982f * c.r + 0.6806995451f * c.g + 0.1073969566f * c.b);
  const float s = std::cbrt(0.0883024619f * c.r + 0.2817188376f * c.g + 0.6299787005f * c.b);
  return {0.2104542553f * l + 0.7936177850f * m - 0.0040720468f * s,
          1.9779984951f * l - 2.4285922050f * m + 0.4505937099f * s,
          0.0259040371f * l + 0.7827717662f * m - 0.8086757660f * s};
}

LinearColor fromOklab(const Oklab& k) {
  const auto cube = [](float v) { return v * v * v; };
  const float l = cube(k.l + 0.3963377774f * k.a + 0.2158037573f * k.b);
  const float m = cube(k.l - 0.1055613458f * k.a - 0.0638541728f * k.b);
  const float s = cube(k.l - 0.0894841775f * k.a - 1.2914855480f * k.b);
  return {4.0767416621f * l - 3.3077115913f * m + 0.2309699292f * s,
          -1.2684380046f * l + 2.6097574011f * m - 0.3413193965f * s,
          -0.0041960863f * l - 0.7034186147f * m + 1.7076147010f * s};
}

Oklch toOklch(const Oklab& k) {
  float hue = std::atan2(k.b, k.a) * 180.f / std::numbers::pi_v<float>;
  if (hue < 0) hue += 360;
  return {k.l, std::hypot(k.a, k.b), hue};
}

Oklab fromOklch(const Oklch& k) {
  const float h = k.h * std::numbers::pi_v<float> / 180.f;
  return {k.l, k.c * std::cos(h), k.c * std::sin(h)};
}

Oklch toOklch(const EncodedColor& color) {
  return toOklch(toOklab(decode(color)));
}

bool insideSrgb(const LinearColor& c) {
  const auto in = [](float v) { return v >= -2e-4f && v <= 1 + 2e-4f; };
  return in(c.r) && in(c.g) && in(c.b);
}

float largestChroma(float lightness, float hue) {
  float low = 0, high = 0.5f;
  for (int i = 0; i < 20; ++i) {
    const float mid = (low + high) / 2;
    (insideSrgb(fromOklab(fromOklch({lightness, mid, hue}))) ? low : high) = mid;
  }
  return low;
}

EncodedColor toEncoded(const Oklch& lch) {
  LinearColor linear = fromOklab(fromOklch(lch));
  if (!insideSrgb(linear)) linear = fromOklab(fromOklch({lch.l, largestChroma(lch.l, lch.h), lch.h}));
  const auto unit = [](float v) { return std::clamp(v, 0.f, 1.f); };
  return {unit(encodeSrgb(linear.r)), unit(encodeSrgb(linear.g)), unit(encodeSrgb(linear.b))};
}

}  // namespace juvenor
