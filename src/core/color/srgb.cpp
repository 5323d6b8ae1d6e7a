#include "core/color/srgb.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <vector>

namespace juvenor {

float encodeSrgb(float linear) {
  const double v = linear;
  if (v < 0) return -encodeSrgb(-linear);
  return static_cast<float>(v <= 0.0031308 ? 12.92 * v : 1.055 * std::pow(v, 1 / 2.4) - 0.055);
}

float decodeSrgb(float encoded) {
  const double v = encoded;
  if (v < 0) return -decodeSrgb(-encoded);
  return static_cast<float>(v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4));
}

float decodeSrgb16(uint16_t encoded) {
  static const std::vector<float> table = [] {
    std::vector<float> t(65536);
    for (int i = 0; i < 65536; ++i) t[i] = decodeSrgb(from16(static_cast<uint16_t>(i)));
    return t;
  }();
  return table[encoded];
}

uint16_t encodeSrgb16(float linear) {
  // entries lie even in the square root, where the curve is nearly straight
  constexpr int kSteps = 4096;
  static const std::vector<float> table = [] {
    std::vector<float> t(kSteps + 2);
    for (int i = 0; i < kSteps + 2; ++i) {
      const float root = static_cast<float>(i) / kSteps;
      t[static_cast<size_t>(i)] = 65535.f * encodeSrgb(root * root);
    }
    return t;
  }();
  const float at = std::sqrt(std::clamp(linear, 0.f, 1.f)) * kSteps;
  const auto i = static_cast<size_t>(at);
  return static_cast<uint16_t>(table[i] + (at - static_cast<float>(i)) * (table[i + 1] - table[i]) + 0.5f);
}

EncodedColor encode(const LinearColor& c) {
  return {encodeSrgb(c.r), encodeSrgb(c.g), encodeSrgb(c.b)};
}

LinearColor decode(const EncodedColor& c) {
  return {decodeSrgb(c.r), decodeSrgb(c.g), decodeSrgb(c.b)};
}

Rgba16 opaque16(const EncodedColor& c) {
  return {to16(c.r), to16(c.g), to16(c.b), 65535};
}

EncodedColor straight(const Rgba16& s) {
  if (s.a == 0) return {};
  const float scale = 1.f / static_cast<float>(s.a);
  return {std::min(1.f, s.r * scale), std::min(1.f, s.g * scale), std::min(1.f, s.b * scale)};
}

std::string toHex(const EncodedColor& c) {
  const auto byte = [](float v) { return static_cast<int>(std::clamp(v, 0.f, 1.f) * 255.f + 0.5f); };
  return fmt::format("#{:02x}{:02x}{:02x}", byte(c.r), byte(c.g), byte(c.b));
}

std::optional<EncodedColor> fromHex(std::string_view text) {
  if (text.starts_with('#')) text.remove_prefix(1);
  if (text.size() != 3 && text.size() != 6) return std::nullopt;
  std::array<int, 6> digits{};
  for (size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (c >= '0' && c <= '9')
      digits[i] = c - '0';
    else if (c >= 'a' && c <= 'f')
      digits[i] = c - 'a' + 10;
    else if (c >= 'A' && c <= 'F')
      digits[i] = c - 'A' + 10;
    else
      return std::nullopt;
  }
  if (text.size() == 3) return EncodedColor{digits[0] / 15.f, digits[1] / 15.f, digits[2] / 15.f};
  const auto channel = [&](int i) { return static_cast<float>(digits[i] * 16 + digits[i + 1]) / 255.f; };
  return EncodedColor{channel(0), channel(2), channel(4)};
}

}  // namespace juvenor
