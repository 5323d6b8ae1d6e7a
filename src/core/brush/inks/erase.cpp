// Takes away what the layer holds, or shows again what a mask hides.
#include "core/brush/ink.h"

namespace juvenor {

std::unique_ptr<Ink> makeEraseInk(const InkSetting& setting) {
  InkTarget target{};
  if (!setting.channel)
    target.fill(65535);
  else
    eachChannel([&](auto c) {
      if (c() == *setting.channel) std::ranges::copy(nothingOf<c()>(), target.begin());
    });
  return makeCoverInk(target, setting.dither);
}

}  // namespace juvenor
