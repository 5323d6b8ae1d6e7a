// One long piece of work at a time beside the painting: on a thread of its own, with progress and cancel,
// while the window goes on taking strokes. The window's thread never waits for it: work that is no longer
// wanted is told so and runs out by itself, and results are told apart by a counter.
#pragma once

#include <QObject>
#include <atomic>
#include <functional>
#include <memory>
#include <thread>
#include <vector>

#include "core/progress.h"

namespace juvenor::app {

class Background : public QObject {
  Q_OBJECT
 public:
  /// Waits for all of it; the program is about to end.
  ~Background() override;

  /// Starts `work` on a thread; `then` runs here when it is done, with what it gave. Work that is still
  /// running is given up: its `then` never runs.
  void start(const QString& name, std::function<Outcome(const Progress&)> work,
             std::function<void(Outcome)> then);
  /// The artist's wish: the work stops, and its `then` is told.
  void cancel();
  /// The work is not wanted any more; its `then` never runs.
  void giveUp();
  bool running() const { return current_ != 0; }
  const QString& name() const { return name_; }

 signals:
  /// 0…1 while it runs, below 0 when nothing does.
  void progressed(double fraction);

 private:
  struct Job {
    uint64_t number = 0;
    std::shared_ptr<std::atomic<bool>> cancelled;
    std::thread thread;
  };
  void finish(uint64_t number, const Outcome& done, const std::function<void(Outcome)>& then);

  std::vector<Job> jobs_;  ///< the current one, and given up ones that still run out
  uint64_t current_ = 0, counter_ = 0;
  QString name_;
};

}  // namespace juvenor::app
