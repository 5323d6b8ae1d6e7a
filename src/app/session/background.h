// One long piece of work at a time beside the painting: on a thread of its own, with progress and cancel,
// while the window goes on taking strokes.
#pragma once

#include <QObject>
#include <atomic>
#include <functional>
#include <memory>
#include <thread>

#include "core/progress.h"

namespace juvenor::app {

class Background : public QObject {
  Q_OBJECT
 public:
  ~Background() override { stop(); }

  /// Starts `work` on a thread; `then` runs here when it is done, with what it gave. Work that is still
  /// running is cancelled first.
  void start(const QString& name, std::function<Outcome(const Progress&)> work,
             std::function<void(Outcome)> then);
  void cancel() { cancelled_ = true; }
  /// Cancels and waits.
  void stop();
  bool running() const { return thread_.joinable(); }
  const QString& name() const { return name_; }

 signals:
  /// 0…1 while it runs, below 0 when nothing does.
  void progressed(double fraction);

 private:
  std::thread thread_;
  std::atomic<bool> cancelled_ = false;
  QString name_;
};

}  // namespace juvenor::app
