// What benchmarks that drive an engine look at: its frames, from its own thread.
#pragma once

#include <chrono>
#include <condition_variable>
#include <mutex>

#include "app/engine/engine.h"
#include "core/document/edits/edits.h"
#include "core/render/picture.h"

namespace juvenor::bench {

using Clock = std::chrono::steady_clock;

inline double since(Clock::time_point from) {
  return std::chrono::duration<double>(Clock::now() - from).count();
}

// Counts finished frames from the engine's own thread.
class Frames {
 public:
  explicit Frames(app::Engine& engine) {
    QObject::connect(
        &engine, &app::Engine::frameReady, &engine,
        [this](const QImage&, const QPoint&) {
          const std::lock_guard hold(mutex_);
          ++count_;
          seen_.notify_all();
        },
        Qt::DirectConnection);
  }
  int count() {
    const std::lock_guard hold(mutex_);
    return count_;
  }
  bool waitBeyond(int count) {
    std::unique_lock hold(mutex_);
    return seen_.wait_for(hold, std::chrono::milliseconds(500), [&] { return count_ > count; });
  }

 private:
  std::mutex mutex_;
  std::condition_variable seen_;
  int count_ = 0;
};

// The first frame that answers a pen is one of a part of the picture; light and edges come as whole ones.
class Dabs {
 public:
  explicit Dabs(app::Engine& engine) {
    QObject::connect(
        &engine, &app::Engine::frameReady, &engine,
        [this](const QImage& pixels, const QPoint&) {
          if (pixels.width() == 1280 && pixels.height() == 800) return;
          const std::lock_guard hold(mutex_);
          seen_ = true;
          come_.notify_all();
        },
        Qt::DirectConnection);
  }
  bool wait() {
    std::unique_lock hold(mutex_);
    return come_.wait_for(hold, std::chrono::seconds(5), [&] { return seen_; });
  }

 private:
  std::mutex mutex_;
  std::condition_variable come_;
  bool seen_ = false;
};

/// Seconds from each of many pen events, on the active layer or its mask, to the pixels that answer it,
/// ascending.
std::vector<double> penTimes(const Document& d, const ChannelValues& paint, bool onMask = false);

inline app::Viewing viewingOf(const Document& d) {
  app::Viewing v;
  v.size = {1280, 800};
  v.camera = framed({}, v.size, shownPoints(d));
  return v;
}

}  // namespace juvenor::bench
