// The sRGB transfer curve, IEC 61966-2-1, and the two ways the program keeps a colour.
#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace juvenor {

/// A straight (not premultiplied) sRGB-encoded colour, each channel 0…1.
struct EncodedColor {
  float r = 0, g = 0, b = 0;
  bool operator==(const EncodedColor&) const = default;
};

/// A linear-light colour with sRGB primaries; 0…1 inside the gamut.
struct LinearColor {
  float r = 0, g = 0, b = 0;
};

/// One stored sample: sRGB-encoded, premultiplied by alpha, 16 bits a channel.
struct Rgba16 {
  uint16_t r = 0, g = 0, b = 0, a = 0;
  bool operator==(const Rgba16&) const = default;
};

/// Linear 0…1 to encoded 0…1 (values outside are continued as odd function / power).
float encodeSrgb(float linear);
/// Encoded 0…1 to linear 0…1.
float decodeSrgb(float encoded);
/// Encoded 16-bit to linear, by a table of all 65,536 values.
float decodeSrgb16(uint16_t encoded);
/// Linear 0…1 (clamped) to encoded 16 bits, by a table between whose entries it goes straight: within 2 of
/// 65,535 steps.
uint16_t encodeSrgb16(float linear);

EncodedColor encode(const LinearColor& linear);
LinearColor decode(const EncodedColor& encoded);

/// Opaque sample of a colour; channels outside 0…1 are clamped.
Rgba16 opaque16(const EncodedColor& color);
/// The straight colour of a premultiplied sample; black where alpha is 0.
EncodedColor straight(const Rgba16& sample);

/// 0…1 to 0…65535, rounded and clamped.
inline uint16_t to16(float value) {
  return value <= 0 ? 0 : value >= 1 ? 65535 : static_cast<uint16_t>(value * 65535.f + 0.5f);
}
inline float from16(uint16_t value) {
  return static_cast<float>(value) * (1.f / 65535.f);
}

/// "#rrggbb", lower case.
std::string toHex(const EncodedColor& color);
/// Reads "#rgb", "#rrggbb" with or without "#"; empty when it is not a colour.
std::optional<EncodedColor> fromHex(std::string_view text);

}  // namespace juvenor
