// Works out beside the engine what would make the pen wait: layers whose maps are still to be measured, and
// the ray structure that traces faster.
#pragma once

#include "app/easel/beside.h"
#include "core/layers/prepared_layer.h"

namespace juvenor::app {

class Preparer {
 public:
  /// `done` is called on the preparer's own thread.
  explicit Preparer(std::function<void()> done);

  /// What is to be worked out on a surface; the maps remember it, so that asking them again is quick.
  struct Wish {
    SurfaceMapsPointer maps;
    LayerStack layers;
    MaskTerms shown;                      ///< a map shown on the skin; empty: none
    std::shared_ptr<const Sculpt> lines;  ///< whose lines are shown; null: none are
  };
  void wish(Wish wish) { beside_.wish(std::move(wish)); }

 private:
  void grant(const Wish& wish, const Progress& wanted);

  std::function<void()> done_;
  Beside<Wish> beside_;
};

}  // namespace juvenor::app
