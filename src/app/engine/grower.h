// Grows hair beside the engine, which takes a second where there is much of it. Only the newest wish matters;
// results are told apart by a counter.
#pragma once

#include "app/engine/beside.h"
#include "core/hair/grown_hair.h"

namespace juvenor::app {

class Grower {
 public:
  struct Done {
    FibreRaysPointer hair;         ///< null: nothing grows, or it was given up or could not
    std::optional<Error> trouble;  ///< why it could not
    bool givenUp = false;
    uint64_t counter = 0;
  };
  /// What nobody else writes any more.
  struct Wish {
    PreparedStack stack;
    SurfaceMapsPointer maps;
    std::set<uint32_t> hidden;
    uint64_t counter = 0;
  };
  /// `done` is called on the grower's own thread, once for every wish that was begun.
  explicit Grower(std::function<void(Done)> done);
  void grow(Wish wish) { beside_.wish(std::move(wish)); }
  void giveUp() { beside_.giveUp(); }

 private:
  void grant(const Wish& wish, const Progress& wanted);

  std::function<void(Done)> done_;
  Beside<Wish> beside_;
};

}  // namespace juvenor::app
