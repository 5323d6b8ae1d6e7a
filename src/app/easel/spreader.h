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
  /// Light spread over the surface of some maps; null when it was given up, or could not be.
  struct Done {
    std::shared_ptr<const std::vector<ReceivedLight>> light;
    std::optional<Error> trouble;  ///< why it could not be
    SurfaceMapsPointer maps;
    uint64_t counter = 0;
  };
  /// `done` is called on the spreader's own thread, once for every wish that was begun.
  explicit Spreader(std::function<void(Done)> done);
  ~Spreader();

  void spread(Lighting::Received received, SurfaceMapsPointer maps);
  /// What is under way is not wanted any more.
  void giveUp();

 private:
  struct Wish {
    Lighting::Received received;
    SurfaceMapsPointer maps;
    uint64_t turn;
  };
  void work();

  std::function<void(Done)> done_;
  std::mutex mutex_;
  std::condition_variable wake_;
  std::optional<Wish> wanted_;
  uint64_t turn_ = 0;  ///< counts wishes and givings up
  bool quit_ = false;
  std::thread thread_;
};

}  // namespace juvenor::app
