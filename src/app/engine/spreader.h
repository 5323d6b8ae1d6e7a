// Spreads light through the skin beside the engine, which takes seconds on large sculpts. Only the newest
// light matters; it stops when a pen comes down, and results are told apart by the light's counter.
#pragma once

#include "app/engine/beside.h"
#include "core/render/spread_light.h"

namespace juvenor::app {

class Spreader {
 public:
  /// Light spread over the surface of some maps; null when it was given up, or could not be.
  struct Done {
    std::shared_ptr<const std::vector<ReceivedLight>> light;
    std::optional<Error> trouble;  ///< why it could not be
    SurfaceMapsPointer maps;
    uint64_t counter = 0;
  };
  /// `done` is called on the spreader's own thread, once for every wish that was begun.
  explicit Spreader(std::function<void(Done)> done);

  void spread(Lighting::Received received, SurfaceMapsPointer maps) {
    beside_.wish({std::move(received), std::move(maps)});
  }
  /// What is under way is not wanted any more.
  void giveUp() { beside_.giveUp(); }

 private:
  struct Wish {
    Lighting::Received received;
    SurfaceMapsPointer maps;
  };
  void grant(const Wish& wish, const Progress& wanted);

  std::function<void(Done)> done_;
  Beside<Wish> beside_;
};

}  // namespace juvenor::app
