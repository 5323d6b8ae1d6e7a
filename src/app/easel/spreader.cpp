#include "app/easel/spreader.h"

#include <utility>

namespace juvenor::app {

Spreader::Spreader(std::function<void(Done)> done) : done_(std::move(done)) {
  thread_ = std::thread([this] { work(); });
}

Spreader::~Spreader() {
  {
    const std::lock_guard hold(mutex_);
    quit_ = true;
    ++turn_;
  }
  wake_.notify_all();
  thread_.join();
}

void Spreader::spread(Lighting::Received received, SurfaceMapsPointer maps) {
  {
    const std::lock_guard hold(mutex_);
    wanted_ = Wish{std::move(received), std::move(maps), ++turn_};
  }
  wake_.notify_all();
}

void Spreader::giveUp() {
  const std::lock_guard hold(mutex_);
  ++turn_;
}

void Spreader::work() {
  std::unique_lock hold(mutex_);
  for (;;) {
    wake_.wait(hold, [&] { return quit_ || wanted_; });
    if (quit_) return;
    const Wish wish = std::move(*wanted_);
    wanted_.reset();
    hold.unlock();
    auto light = caught([&] {
      return spreadLight(wish.received, *wish.maps, [&](float) {
        const std::lock_guard held(mutex_);
        return wish.turn == turn_;
      });
    });
    Done out{nullptr, std::nullopt, wish.maps, wish.received.counter};
    if (light)
      out.light = std::make_shared<const std::vector<ReceivedLight>>(std::move(*light));
    else if (!isCancelled(light.error()))
      out.trouble = light.error();
    done_(std::move(out));
    hold.lock();
  }
}

}  // namespace juvenor::app
