// The few words of colour the demo is painted with.
#pragma once

#include <algorithm>

#include "core/color/srgb.h"

namespace juvenor::demo {

/// A colour written as in "#8a875c", sRGB-encoded.
inline EncodedColor hex(std::string_view text) {
  return *fromHex(text);
}

/// From `a` at t = 0 to `b` at t = 1, in encoded values; t is held to 0…1.
inline EncodedColor mixed(const EncodedColor& a, const EncodedColor& b, float t) {
  const float u = std::clamp(t, 0.f, 1.f);
  return {a.r + u * (b.r - a.r), a.g + u * (b.g - a.g), a.b + u * (b.b - a.b)};
}

}  // namespace juvenor::demo
