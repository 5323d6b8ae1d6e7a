#include "app/engine/engine_queue.h"

#include <utility>

namespace juvenor::app {

namespace {
// So long after its last word a hand rests.
constexpr std::chrono::milliseconds kHandRests(150);
}  // namespace

void EngineQueue::post(Command command) {
  const bool looks =
      std::holds_alternative<Viewing>(command) || std::holds_alternative<SheetViewing>(command);
  const bool byHand = looks || std::holds_alternative<Document>(command) ||
                      std::holds_alternative<BeginStroke>(command) ||
                      std::holds_alternative<PenPoint>(command) || std::holds_alternative<EndStroke>(command);
  const bool stroke = std::holds_alternative<BeginStroke>(command);
  if (stroke) ++pensWaiting_;
  {
    const std::lock_guard hold(mutex_);
    if (stroke) ++strokesOut_;
    // of several cameras, or documents, waiting in a row only the last matters
    if (!commands_.empty() && (looks || std::holds_alternative<Document>(command)) &&
        command.index() == commands_.back().index())
      commands_.back() = std::move(command);
    else
      commands_.push_back(std::move(command));
    atRest_ = false;
    pending_ = true;
    if (byHand) restsAt_ = Clock::now() + kHandRests;
  }
  wake_.notify_all();
}

void EngineQueue::quit() {
  {
    const std::lock_guard hold(mutex_);
    quit_ = true;
    pending_ = true;
  }
  wake_.notify_all();
}

bool EngineQueue::quitting() const {
  const std::lock_guard hold(mutex_);
  return quit_;
}

std::vector<FinishedStroke> EngineQueue::takeFinished() {
  const std::lock_guard hold(mutex_);
  return std::exchange(finished_, {});
}

void EngineQueue::drain() {
  std::unique_lock hold(mutex_);
  idle_.wait(hold, [&] { return commands_.empty() && !working_; });
}

void EngineQueue::awaitStrokes() {
  std::unique_lock hold(mutex_);
  idle_.wait(hold, [&] { return strokesOut_ == 0; });
}

void EngineQueue::awaitRest() {
  std::unique_lock hold(mutex_);
  ++awaited_;
  wake_.notify_all();
  idle_.wait(hold, [&] {
    return commands_.empty() && !working_ && atRest_ && !waiting_ && !spreading_ && !growing_;
  });
  --awaited_;
}

EngineQueue::Turn EngineQueue::begin() {
  std::unique_lock hold(mutex_);
  if (commands_.empty() && atRest_) {
    idle_.notify_all();
    wake_.wait(hold, [&] { return quit_ || !commands_.empty(); });
  } else if (commands_.empty() && later_) {
    idle_.notify_all();
    wake_.wait_until(hold, restsAt_, [&] { return quit_ || !commands_.empty() || awaited_ > 0; });
  }
  if (quit_) return Turn::Quit;
  working_ = !commands_.empty();
  return working_ ? Turn::Commands : Turn::Rest;
}

std::optional<Command> EngineQueue::next() {
  const std::lock_guard hold(mutex_);
  if (commands_.empty() || quit_) return std::nullopt;
  std::optional<Command> out(std::move(commands_.front()));
  commands_.pop_front();
  pending_ = quit_ || !commands_.empty();
  return out;
}

bool EngineQueue::handRests() const {
  const std::lock_guard hold(mutex_);
  return handRestsNow();
}

void EngineQueue::end(Left left) {
  const std::lock_guard hold(mutex_);
  working_ = false;
  atRest_ = left == Left::Nothing && commands_.empty();
  later_ = left == Left::Later;
  if (commands_.empty()) idle_.notify_all();
}

void EngineQueue::noteStrokeEnded(std::optional<FinishedStroke> stroke) {
  const std::lock_guard hold(mutex_);
  --strokesOut_;
  if (stroke) finished_.push_back(std::move(*stroke));
}

void EngineQueue::noteWaiting(bool waiting) {
  const std::lock_guard hold(mutex_);
  waiting_ = waiting;
}

}  // namespace juvenor::app
