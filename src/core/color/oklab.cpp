#include "core/color/oklab.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/color/oklab_matrices.h"

namespace juvenor {

namespace {

using Three = std::array<float, 3>;

Three times(const Rows& m, const Three& v) {
  Three out;
  for (size_t i = 0; i < 3; ++i) out[i] = m.row[i][0] * v[0] + m.row[i][1] * v[1] + m.row[i][2] * v[2];
  return out;
}

}  // namespace

Oklab toOklab(const LinearColor& c) {
  Three cones = times(kConesOfRgb, {c.r, c.g, c.b});
  for (float& v : cones) v = std::cbrt(v);
  const Three lab = times(kLabOfCones, cones);
  return {lab[0], lab[1], lab[2]};
}

LinearColor fromOklab(const Oklab& k) {
  Three cones = times(kConesOfLab, {k.l, k.a, k.b});
  for (float& v : cones) v = v * v * v;
  const Three rgb = times(kRgbOfCones, cones);
  return {rgb[0], rgb[1], rgb[2]};
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
