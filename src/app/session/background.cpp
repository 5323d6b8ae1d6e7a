#include "app/session/background.h"

#include <algorithm>

#include "core/quietly.h"

namespace juvenor::app {

Background::~Background() {
  for (Job& job : jobs_) {
    *job.cancelled = true;
    job.thread.join();
  }
}

void Background::start(const QString& name, std::function<Outcome(const Progress&)> work,
                       std::function<void(Outcome)> then) {
  giveUp();
  name_ = name;
  const uint64_t number = current_ = ++counter_;
  emit progressed(0);
  const auto cancelled = std::make_shared<std::atomic<bool>>(false);
  std::thread thread([this, number, cancelled, work = std::move(work), then = std::move(then)] {
    const Progress progress = [this, number, cancelled](float f) {
      QMetaObject::invokeMethod(
          this,
          [this, number, f] {
            if (current_ == number) emit progressed(static_cast<double>(f));
          },
          Qt::QueuedConnection);
      return !*cancelled;
    };
    Outcome done = Done{};
    quietly([&] { done = caught([&] { return work(progress); }); });
    QMetaObject::invokeMethod(
        this, [this, number, done, then] { finish(number, done, then); }, Qt::QueuedConnection);
  });
  jobs_.push_back({number, cancelled, std::move(thread)});
}

void Background::finish(uint64_t number, const Outcome& done, const std::function<void(Outcome)>& then) {
  const auto job = std::ranges::find(jobs_, number, &Job::number);
  // it has said its last word; nothing is waited for here
  job->thread.join();
  jobs_.erase(job);
  if (current_ != number) return;
  current_ = 0;
  emit progressed(-1);
  then(done);
}

void Background::cancel() {
  for (const Job& job : jobs_)
    if (job.number == current_) *job.cancelled = true;
}

void Background::giveUp() {
  if (!running()) return;
  cancel();
  current_ = 0;
  emit progressed(-1);
}

}  // namespace juvenor::app

#include "moc_background.cpp"
