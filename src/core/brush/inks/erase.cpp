// Takes colour away from the layer, or shows again what a mask hides.
#include "core/brush/ink.h"

namespace juvenor {

std::unique_ptr<Ink> makeEraseInk(const InkSetting& setting) {
  std::array<uint16_t, 4> target{};
  if (setting.onMask) target.fill(65535);
  return makeCoverInk(target, setting.dither);
}

}  // namespace juvenor
