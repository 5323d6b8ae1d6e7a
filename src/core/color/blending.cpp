#include "core/color/blending.h"

#include <algorithm>
#include <cmath>

#include "core/color/skin_tint.h"
#include "core/color/srgb.h"

namespace juvenor {
namespace {

using Triple = std::array<float, 3>;

struct ModeName {
  std::string_view key, label;
};
constexpr std::array<ModeName, kBlendModeCount> kNames{{{"normal", "Normal"},
                                                        {"multiply", "Multiply"},
                                                        {"screen", "Screen"},
                                                        {"overlay", "Overlay"},
                                                        {"darken", "Darken"},
                                                        {"lighten", "Lighten"},
                                                        {"color-dodge", "Colour dodge"},
                                                        {"color-burn", "Colour burn"},
                                                        {"hard-light", "Hard light"},
                                                        {"soft-light", "Soft light"},
                                                        {"difference", "Difference"},
                                                        {"exclusion", "Exclusion"},
                                                        {"hue", "Hue"},
                                                        {"saturation", "Saturation"},
                                                        {"color", "Colour"},
                                                        {"luminosity", "Luminosity"},
                                                        {"divide", "Divide"},
                                                        {"stain", "Stain"},
                                                        {"blood", "Blood"},
                                                        {"melanin", "Melanin"},
                                                        {"yellow", "Yellow"},
                                                        {"lift-blood", "Lift blood"},
                                                        {"lift-melanin", "Lift melanin"},
                                                        {"lift-yellow", "Lift yellow"}}};

static_assert(!kNames.back().key.empty(), "a mode has no name");

float hardLight(float b, float s) {
  return s <= 0.5f ? b * 2 * s : b + (2 * s - 1) - b * (2 * s - 1);
}

float softLight(float b, float s) {
  if (s <= 0.5f) return b - (1 - 2 * s) * b * (1 - b);
  const float d = b <= 0.25f ? ((16 * b - 12) * b + 4) * b : std::sqrt(b);
  return b + (2 * s - 1) * (d - b);
}

float separable(BlendMode mode, float b, float s) {
  switch (mode) {
    case BlendMode::Multiply:
      return b * s;
    case BlendMode::Screen:
      return b + s - b * s;
    case BlendMode::Overlay:
      return hardLight(s, b);
    case BlendMode::Darken:
      return std::min(b, s);
    case BlendMode::Lighten:
      return std::max(b, s);
    case BlendMode::ColorDodge:
      return b <= 0 ? 0 : s >= 1 ? 1 : std::min(1.f, b / (1 - s));
    case BlendMode::ColorBurn:
      return b >= kFullBackdrop ? 1 : s <= 0 ? 0 : 1 - std::min(1.f, (1 - b) / s);
    case BlendMode::HardLight:
      return hardLight(b, s);
    case BlendMode::SoftLight:
      return softLight(b, s);
    case BlendMode::Difference:
      return std::abs(b - s);
    case BlendMode::Exclusion:
      return b + s - 2 * b * s;
    case BlendMode::Divide:
      return b <= 0 ? 0 : s <= 0 ? 1 : std::min(1.f, b / s);
    case BlendMode::Normal:
      return s;
    // these mix the channels, or are skin's own
    case BlendMode::Hue:
    case BlendMode::Saturation:
    case BlendMode::Color:
    case BlendMode::Luminosity:
    case BlendMode::Stain:
    case BlendMode::Blood:
    case BlendMode::Melanin:
    case BlendMode::Yellow:
    case BlendMode::LiftBlood:
    case BlendMode::LiftMelanin:
    case BlendMode::LiftYellow:
      return s;
  }
  return s;
}

float luminosityOf(const Triple& c) {
  return 0.3f * c[0] + 0.59f * c[1] + 0.11f * c[2];
}

float saturationOf(const Triple& c) {
  return std::max({c[0], c[1], c[2]}) - std::min({c[0], c[1], c[2]});
}

Triple clipColor(Triple c) {
  const float l = luminosityOf(c);
  const float n = std::min({c[0], c[1], c[2]}), x = std::max({c[0], c[1], c[2]});
  for (float& v : c) {
    if (n < 0) v = l + (v - l) * l / (l - n);
    if (x > 1) v = l + (v - l) * (1 - l) / (x - l);
  }
  return c;
}

Triple withLuminosity(Triple c, float l) {
  const float d = l - luminosityOf(c);
  for (float& v : c) v += d;
  return clipColor(c);
}

Triple withSaturation(const Triple& c, float s) {
  const float low = std::min({c[0], c[1], c[2]}), high = std::max({c[0], c[1], c[2]});
  if (high <= low) return {0, 0, 0};
  Triple out;
  for (int i = 0; i < 3; ++i) out[i] = (c[i] - low) * s / (high - low);
  return out;
}

Triple mixed(BlendMode mode, const Triple& b, const Triple& s) {
  switch (mode) {
    case BlendMode::Hue:
      return withLuminosity(withSaturation(s, saturationOf(b)), luminosityOf(b));
    case BlendMode::Saturation:
      return withLuminosity(withSaturation(b, saturationOf(s)), luminosityOf(b));
    case BlendMode::Color:
      return withLuminosity(s, luminosityOf(b));
    case BlendMode::Luminosity:
      return withLuminosity(b, luminosityOf(s));
    default: {
      Triple out;
      for (int i = 0; i < 3; ++i) out[i] = separable(mode, b[i], s[i]);
      return out;
    }
  }
}

Triple stained(const Triple& b, const Triple& s, float depth) {
  Triple out;
  for (int i = 0; i < 3; ++i) {
    const float film = std::max(decodeSrgb(s[i]), kDarkestFilm);
    out[i] = encodeSrgb(decodeSrgb(b[i]) * std::pow(film, depth));
  }
  return out;
}

Triple straightOf(const Pixel& p) {
  if (p.a <= 0) return {0, 0, 0};
  return {std::min(1.f, p.r / p.a), std::min(1.f, p.g / p.a), std::min(1.f, p.b / p.a)};
}

}  // namespace

Pixel blend(BlendMode mode, const Pixel& backdrop, const Pixel& source) {
  const float ab = backdrop.a, as = source.a;
  if (as <= 0) return backdrop;
  const Triple b = straightOf(backdrop), s = straightOf(source);
  if (const SkinTint* tint = skinTintOf(mode)) {
    const EncodedColor moved = (*tint)({b[0], b[1], b[2]}, as);
    return {ab * moved.r, ab * moved.g, ab * moved.b, ab};
  }
  Triple out;
  if (mode == BlendMode::Stain) {
    const Triple film = stained(b, s, as);
    for (int i = 0; i < 3; ++i) out[i] = (1 - ab) * as * s[i] + ab * film[i];
  } else {
    const Triple m = mixed(mode, b, s);
    for (int i = 0; i < 3; ++i) out[i] = as * ((1 - ab) * s[i] + ab * m[i]) + (1 - as) * ab * b[i];
  }
  return {out[0], out[1], out[2], as + ab - as * ab};
}

const SkinTint* skinTintOf(BlendMode mode) {
  if (!isSkinTint(mode)) return nullptr;
  const int place = static_cast<int>(mode) - static_cast<int>(BlendMode::Blood);
  return &SkinTint::of(static_cast<SkinMatter>(place % 3), place >= 3);
}

std::string_view blendModeKey(BlendMode mode) {
  return kNames[static_cast<size_t>(mode)].key;
}

std::string_view blendModeLabel(BlendMode mode) {
  return kNames[static_cast<size_t>(mode)].label;
}

std::optional<BlendMode> blendModeFromKey(std::string_view key) {
  for (int i = 0; i < kBlendModeCount; ++i)
    if (kNames[i].key == key) return static_cast<BlendMode>(i);
  return std::nullopt;
}

}  // namespace juvenor
