// Lays colour, or hides on a mask: the airbrush. Flow builds the stroke up dab by dab, opacity is where it
// ends.
#include "core/brush/ink.h"

namespace juvenor {

std::unique_ptr<Ink> makeLayInk(const InkSetting& setting) {
  const Rgba16 c = opaque16(setting.color);
  using Target = std::array<uint16_t, 4>;
  return makeCoverInk(setting.onMask ? Target{} : Target{c.r, c.g, c.b, c.a}, setting.dither);
}

}  // namespace juvenor
