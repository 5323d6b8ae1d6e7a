#include "app/session/background.h"

namespace juvenor::app {

void Background::start(const QString& name, std::function<Outcome(const Progress&)> work,
                       std::function<void(Outcome)> then) {
  stop();
  cancelled_ = false;
  name_ = name;
  emit progressed(0);
  thread_ = std::thread([this, work = std::move(work), then = std::move(then)] {
    const Outcome done = work([this](float f) {
      QMetaObject::invokeMethod(
          this,
          [this, f] {
            if (running()) emit progressed(static_cast<double>(f));
          },
          Qt::QueuedConnection);
      return !cancelled_;
    });
    QMetaObject::invokeMethod(
        this,
        [this, done, then, me = std::this_thread::get_id()] {
          // another piece of work may have taken its place
          if (thread_.get_id() != me) return;
          thread_.join();
          emit progressed(-1);
          then(done);
        },
        Qt::QueuedConnection);
  });
}

void Background::stop() {
  if (!running()) return;
  cancelled_ = true;
  thread_.join();
  emit progressed(-1);
}

}  // namespace juvenor::app
