// One of the colours around a colour, in Oklch.
#pragma once

#include "core/brush/brush.h"
#include "core/color/oklab.h"
#include "core/seeded.h"

namespace juvenor {

/// The colour with lightness, chroma and hue moved by parts (−1…1) of what the spread says.
inline EncodedColor movedColor(const EncodedColor& color, const Spread& spread, float lightness, float chroma,
                               float hue) {
  Oklch c = toOklch(color);
  c.l = std::clamp(c.l + lightness * spread.lightness, 0.f, 1.f);
  c.c = std::max(0.f, c.c * (1 + chroma * spread.chroma));
  c.h += hue * spread.hue;
  c.h -= 360 * std::floor(c.h / 360);
  return toEncoded(c);
}

}  // namespace juvenor
