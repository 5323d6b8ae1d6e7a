// Spreads light through the skin beside the engine, which takes seconds on large sculpts: the light there is,
// and at rest, piece by piece, what is seen of any. Only the newest wish matters; it stops when a pen comes
// down, and results are told apart by counters.
#pragma once

#include "app/engine/beside.h"
#include "core/render/spread_light.h"

#include <variant>

namespace juvenor::app {

class Spreader {
 public:
  /// What was spread over the surface of some maps, unless it was given up, or could not be.
  struct Done {
    std::shared_ptr<const std::vector<ReceivedLight>> light;  ///< null: none
    bool isTransfer = false, pieceTaken = false;  ///< a piece of the transfer, which it has by now
    std::optional<Error> trouble;                 ///< why it could not be
    SurfaceMapsPointer maps;
    uint64_t counter = 0;
  };
  /// `done` is called on the spreader's own thread, once for every wish that was begun.
  explicit Spreader(std::function<void(Done)> done);

  using What = std::variant<Lighting::Received, TransferToSpread>;
  void spread(What what, SurfaceMapsPointer maps) { beside_.wish({std::move(what), std::move(maps)}); }
  /// What is under way is not wanted any more.
  void giveUp() { beside_.giveUp(); }

 private:
  struct Wish {
    What what;
    SurfaceMapsPointer maps;
  };
  void grant(const Wish& wish, const Progress& wanted);

  std::function<void(Done)> done_;
  Beside<Wish> beside_;
};

}  // namespace juvenor::app
