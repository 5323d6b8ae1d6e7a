// One of the colours around a colour, in Oklch.
#pragma once

#include <algorithm>
#include <cmath>

#include "core/color/oklab.h"

namespace juvenor {

/// The colour with its lightness (of Oklab) and its hue (degrees) moved by so much, and its chroma by that
/// part of itself.
inline EncodedColor movedColor(const EncodedColor& color, float lightness, float chroma, float hue) {
  Oklch c = toOklch(color);
  c.l = std::clamp(c.l + lightness, 0.f, 1.f);
  c.c = std::max(0.f, c.c * (1 + chroma));
  c.h += hue;
  c.h -= 360 * std::floor(c.h / 360);
  return toEncoded(c);
}

}  // namespace juvenor
