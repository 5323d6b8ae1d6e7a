#include "app/easel/preparer.h"

#include "core/quietly.h"
#include "core/surface/polygon_lines.h"

namespace juvenor::app {

Preparer::Preparer(std::function<void()> done) : done_(std::move(done)) {
  thread_ = std::thread([this] { work(); });
}

Preparer::~Preparer() {
  {
    const std::lock_guard hold(mutex_);
    quit_ = true;
    ++counter_;
  }
  wake_.notify_all();
  thread_.join();
}

void Preparer::wish(Wish wish) {
  {
    const std::lock_guard hold(mutex_);
    wanted_ = std::move(wish);
    ++counter_;
  }
  wake_.notify_all();
}

void Preparer::work() {
  std::unique_lock hold(mutex_);
  for (;;) {
    wake_.wait(hold, [&] { return quit_ || wanted_; });
    if (quit_) return;
    const Wish wish = std::move(*wanted_);
    wanted_.reset();
    const uint64_t counter = counter_;
    hold.unlock();
    quietly([&] { grant(wish, counter); });
    hold.lock();
  }
}

void Preparer::grant(const Wish& wish, uint64_t counter) {
  const Progress wanted = [&](float) {
    const std::lock_guard hold(mutex_);
    return counter == counter_;
  };
  const auto stack = prepared(wish.layers, *wish.maps, wanted);
  if (stack && !wish.shown.empty()) (void)maskOf(*wish.maps, wish.shown, wanted);
  if (wish.lines) (void)polygonLinesOf(*wish.maps, *wish.lines);
  if (stack) done_();
  if (wanted(0) && wish.maps->refineRays(wanted)) done_();
}

}  // namespace juvenor::app
