#include "app/engine/spreader.h"

#include <utility>

namespace juvenor::app {

Spreader::Spreader(std::function<void(Done)> done)
    : done_(std::move(done)),
      beside_([this](const Wish& wish, const Progress& wanted) { grant(wish, wanted); }) {}

void Spreader::grant(const Wish& wish, const Progress& wanted) {
  const auto* transfer = std::get_if<TransferToSpread>(&wish.what);
  const auto* received = std::get_if<Lighting::Received>(&wish.what);
  auto light = caught([&] {
    return transfer ? spreadPiece(*transfer, *wish.maps, wanted) : spreadLight(*received, *wish.maps, wanted);
  });
  Done out{nullptr, transfer != nullptr, std::nullopt, wish.maps,
           transfer ? transfer->counter : received->counter};
  if (light)
    out.light = std::make_shared<const std::vector<ReceivedLight>>(std::move(*light));
  else if (!isCancelled(light.error()))
    out.trouble = light.error();
  done_(std::move(out));
}

}  // namespace juvenor::app
