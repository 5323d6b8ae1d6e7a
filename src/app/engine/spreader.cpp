#include "app/engine/spreader.h"

#include <utility>

namespace juvenor::app {

Spreader::Spreader(std::function<void(Done)> done)
    : done_(std::move(done)),
      beside_([this](const Wish& wish, const Progress& wanted) { grant(wish, wanted); }) {}

void Spreader::grant(const Wish& wish, const Progress& wanted) {
  auto light = caught([&] { return spreadLight(wish.received, *wish.maps, wanted); });
  Done out{nullptr, std::nullopt, wish.maps, wish.received.counter};
  if (light)
    out.light = std::make_shared<const std::vector<ReceivedLight>>(std::move(*light));
  else if (!isCancelled(light.error()))
    out.trouble = light.error();
  done_(std::move(out));
}

}  // namespace juvenor::app
