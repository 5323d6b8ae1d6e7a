#include "app/easel/spreader.h"

#include <utility>

namespace juvenor::app {

Spreader::Spreader(std::function<void(Light, uint64_t)> done) : done_(std::move(done)) {
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
    wanted_ = Wish{std::move(received), std::move(maps)};
    ++turn_;
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
    const uint64_t turn = turn_;
    hold.unlock();
    const auto light = caught([&] {
      return spreadLight(wish.received, *wish.maps, [&](float) {
        const std::lock_guard held(mutex_);
        return turn == turn_;
      });
    });
    done_(light ? std::make_shared<const std::vector<ReceivedLight>>(*light) : nullptr,
          wish.received.counter);
    hold.lock();
  }
}

}  // namespace juvenor::app
