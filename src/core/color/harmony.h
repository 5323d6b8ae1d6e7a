// Colours that go with a colour: hue turned in Oklch, lightness kept, chroma as far as the screen can show
// it.
#pragma once

#include <vector>

#include "core/color/oklab.h"

namespace juvenor {

struct HarmonyHint {
  const char* name;  ///< "complement"
  EncodedColor color;
};
/// Complement, the two of the triad, the two split complements.
inline std::vector<HarmonyHint> harmonyOf(const EncodedColor& color) {
  const Oklch c = toOklch(color);
  const auto turned = [&](float degrees) {
    const float hue = c.h + degrees;
    return toEncoded({c.l, c.c, hue >= 360 ? hue - 360 : hue});
  };
  return {{"complement", turned(180)},
          {"triad", turned(120)},
          {"triad", turned(240)},
          {"split", turned(150)},
          {"split", turned(210)}};
}

}  // namespace juvenor
