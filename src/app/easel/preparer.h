// Works out beside the engine what would make the pen wait: layers whose maps are still to be measured, and
// the ray structure that traces faster. One thing at a time; a newer wish cancels the older one, and results
// are told apart by a counter.
#pragma once

#include <condition_variable>
#include <functional>
#include <mutex>
#include <optional>
#include <thread>

#include "core/layers/prepared_layer.h"

namespace juvenor::app {

class Preparer {
 public:
  /// `done` is called on the preparer's own thread.
  explicit Preparer(std::function<void()> done);
  ~Preparer();

  /// What is to be worked out on a surface; the maps remember it, so that asking them again is quick.
  struct Wish {
    SurfaceMapsPointer maps;
    LayerStack layers;
    MaskTerms shown;                      ///< a map shown on the skin; empty: none
    std::shared_ptr<const Sculpt> lines;  ///< whose lines are shown; null: none are
  };
  void wish(Wish wish);

 private:
  void work();
  void grant(const Wish& wish, uint64_t counter);

  std::function<void()> done_;
  std::mutex mutex_;
  std::condition_variable wake_;
  std::optional<Wish> wanted_;
  uint64_t counter_ = 0;
  bool quit_ = false;
  std::thread thread_;
};

}  // namespace juvenor::app
