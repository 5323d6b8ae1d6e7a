#include "app/engine/spreader.h"

#include <utility>

namespace juvenor::app {

Spreader::Spreader(std::function<void(Done)> done)
    : done_(std::move(done)),
      beside_([this](const Wish& wish, const Progress& wanted) { grant(wish, wanted); }) {}

void Spreader::grant(const Wish& wish, const Progress& wanted) {
  Done out;
  out.maps = wish.maps;
  const auto failed = [&](const Error& error) {
    if (!isCancelled(error)) out.trouble = error;
  };
  if (const auto* transfer = std::get_if<TransferToSpread>(&wish.what)) {
    out.isTransfer = true;
    out.counter = transfer->counter;
    const Outcome spread = caught([&] { return spreadPiece(*transfer, *wish.maps, wanted); });
    out.pieceTaken = static_cast<bool>(spread);
    if (!spread) failed(spread.error());
  } else {
    const auto& received = std::get<Lighting::Received>(wish.what);
    out.counter = received.counter;
    auto light = caught([&] { return spreadLight(received, *wish.maps, wanted); });
    if (light)
      out.light = std::make_shared<const std::vector<ReceivedLight>>(std::move(*light));
    else
      failed(light.error());
  }
  done_(std::move(out));
}

}  // namespace juvenor::app
