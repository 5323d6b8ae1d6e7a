// Spreads light through the skin beside the engine, which takes seconds on large sculpts. Only the newest
// light matters; it stops when a pen comes down, and results are told apart by the light's counter.
#pragma once

#include <condition_variable>
#include <functional>
#include <mutex>
#include <optional>
#include <thread>

#include "core/render/spread_light.h"

namespace juvenor::app {

class Spreader {
 public:
  using Light = std::shared_ptr<const std::vector<ReceivedLight>>;
  /// `done` is called on the spreader's own thread; with null when it was given up or failed.
  explicit Spreader(std::function<void(Light, uint64_t counter)> done);
  ~Spreader();

  void spread(Lighting::Received received, SurfaceMapsPointer maps);
  /// What is under way is not wanted any more.
  void giveUp();

 private:
  struct Wish {
    Lighting::Received received;
    SurfaceMapsPointer maps;
  };
  void work();

  std::function<void(Light, uint64_t)> done_;
  std::mutex mutex_;
  std::condition_variable wake_;
  std::optional<Wish> wanted_;
  uint64_t turn_ = 0;  ///< counts wishes and givings up
  bool quit_ = false;
  std::thread thread_;
};

}  // namespace juvenor::app
