// Lays the pen's paint, or hides on a mask: the airbrush. Flow builds the stroke up dab by dab, opacity is
// where it ends. Heights add to those that are there.
#include "core/brush/ink.h"

namespace juvenor {

std::unique_ptr<Ink> makeLayInk(const InkSetting& setting) {
  InkTarget target{}, zero{};
  bool raises = false;
  eachChannel([&](auto c) {
    if (setting.channel != c()) return;
    std::ranges::copy(laid<c()>(setting.paint, setting.reliefStep), target.begin());
    std::ranges::copy(nothingOf<c()>(), zero.begin());
    raises = factsOf(c()).rule == ChannelRule::Add;
  });
  return raises ? makeRaiseInk(target, zero, setting.dither) : makeCoverInk(target, setting.dither);
}

}  // namespace juvenor
