// Works out beside the engine what would make the pen wait: layers whose maps are still to be measured or
// whose patterns are still to grow, and the ray structure that traces faster. Of patterns a glimpse comes
// first.
#pragma once

#include "app/engine/beside.h"
#include "core/layers/glimpse.h"
#include "core/layers/prepared_layer.h"

namespace juvenor::app {

class Preparer {
 public:
  /// What patterns come to on a few chunks of a surface.
  struct Glimpses {
    SurfaceMapsPointer maps;
    std::vector<uint32_t> chunks;
    std::vector<std::pair<LayerPointer, PreparedSourcePointer>> layers;
  };
  /// Both are called on the preparer's own thread.
  Preparer(std::function<void()> done, std::function<void(Glimpses)> glimpsed);

  /// What is to be worked out on a surface; the maps remember it, so that asking them again is quick.
  struct Wish {
    SurfaceMapsPointer maps;
    LayerStack layers;
    MaskTerms shown;                      ///< a map shown on the skin; empty: none
    std::shared_ptr<const Sculpt> lines;  ///< whose lines are shown; null: none are
    std::vector<uint32_t> seen;           ///< chunks in view, nearest to its middle first
  };
  void wish(Wish wish);
  /// There is no work any more: nothing is kept of what there was.
  void forget() { wish({}); }

 private:
  void glimpse(const Wish& wish);
  void workOut(const Wish& wish, const Progress& wanted);

  std::function<void()> done_;
  std::function<void(Glimpses)> glimpsed_;
  std::unique_ptr<Glimpse> glimpse_;  ///< the last one: while a slider moves all else stays
  size_t room_ = kLeastRoom;          ///< chunks a glimpse may have, by how long the last one took
  static constexpr size_t kLeastRoom = 8, kMostRoom = 16;
  // all of it grows on a thread of its own: a glimpse of something newer does not wait until that has stopped
  Beside<Wish> whole_, glimpsing_;
};

}  // namespace juvenor::app
