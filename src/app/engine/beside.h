// One thread beside the engine that works on the newest wish: a newer one, or giving up, makes the one under
// way stop at its next report.
#pragma once

#include <condition_variable>
#include <functional>
#include <mutex>
#include <optional>
#include <thread>

#include "core/progress.h"

namespace juvenor::app {

template <class Wish>
class Beside {
 public:
  /// `grant` is called on the thread, and must not throw; `wanted` says false once nobody waits any more.
  using Grant = std::function<void(const Wish& wish, const Progress& wanted)>;
  explicit Beside(Grant grant) : grant_(std::move(grant)) {
    thread_ = std::thread([this] { work(); });
  }
  ~Beside() {
    {
      const std::lock_guard hold(mutex_);
      quit_ = true;
      ++turn_;
    }
    wake_.notify_all();
    thread_.join();
  }
  Beside(const Beside&) = delete;
  Beside& operator=(const Beside&) = delete;

  void wish(Wish wish) {
    {
      const std::lock_guard hold(mutex_);
      wanted_ = std::move(wish);
      wantedTurn_ = ++turn_;
    }
    wake_.notify_all();
  }
  /// A wish that was not begun is begun all the same, and told at once that nobody waits.
  void giveUp() {
    const std::lock_guard hold(mutex_);
    ++turn_;
  }

 private:
  void work() {
    std::unique_lock hold(mutex_);
    for (;;) {
      wake_.wait(hold, [&] { return quit_ || wanted_; });
      if (quit_) return;
      const Wish wish = std::move(*wanted_);
      wanted_.reset();
      const uint64_t turn = wantedTurn_;
      hold.unlock();
      grant_(wish, [&](float) {
        const std::lock_guard held(mutex_);
        return turn == turn_;
      });
      hold.lock();
    }
  }

  Grant grant_;
  std::mutex mutex_;
  std::condition_variable wake_;
  std::optional<Wish> wanted_;
  uint64_t turn_ = 0;  ///< counts wishes and givings up
  uint64_t wantedTurn_ = 0;
  bool quit_ = false;
  std::thread thread_;
};

}  // namespace juvenor::app
