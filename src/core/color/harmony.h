// Colours that go with a colour: hue turned in Oklch, lightness kept, chroma no stronger than asked for and
// as far as the screen can show it.
#pragma once

#include <algorithm>
#include <vector>

#include "core/color/oklab.h"

namespace juvenor {

struct HarmonyHint {
  const char* name;  ///< "complement"
  EncodedColor color;
};
/// The strongest chroma that still looks like something in skin when its hue is not: veins, bruises, gills.
inline constexpr float kSkinHarmonyChroma = 0.05f;

/// Complement, the two of the triad, the two split complements; none of more Oklch chroma than `mostChroma`,
/// nor than the colour itself has.
inline std::vector<HarmonyHint> harmonyOf(const EncodedColor& color, float mostChroma = 1) {
  const Oklch c = toOklch(color);
  const auto turned = [&](float degrees) {
    const float hue = c.h + degrees;
    return toEncoded({c.l, std::min(c.c, mostChroma), hue >= 360 ? hue - 360 : hue});
  };
  return {{"complement", turned(180)},
          {"triad", turned(120)},
          {"triad", turned(240)},
          {"split", turned(150)},
          {"split", turned(210)}};
}

}  // namespace juvenor
