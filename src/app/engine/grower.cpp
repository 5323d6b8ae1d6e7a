#include "app/engine/grower.h"

#include <utility>

namespace juvenor::app {

Grower::Grower(std::function<void(Done)> done)
    : done_(std::move(done)),
      beside_([this](const Wish& wish, const Progress& wanted) { grant(wish, wanted); }) {}

void Grower::grant(const Wish& wish, const Progress& wanted) {
  auto hair = caught([&] { return grownHair(wish.stack, *wish.maps, wish.hidden, wanted); });
  Done out{nullptr, std::nullopt, false, wish.counter};
  if (hair)
    out.hair = std::move(*hair);
  else if (isCancelled(hair.error()))
    out.givenUp = true;
  else
    out.trouble = hair.error();
  done_(std::move(out));
}

}  // namespace juvenor::app
