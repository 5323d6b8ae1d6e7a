// The steps of the work, as documents that share their chunks. Undo is going back in the list; the list is
// bounded by memory alone.
#pragma once

#include <deque>
#include <utility>

#include "core/document/document.h"

namespace juvenor {

/// One finished edit. Immutable and shared: the saving thread holds the same steps.
struct Step {
  uint64_t id = 0;  ///< at random, so that two programs never give one to different steps; 1…2⁶³−1
  std::string name;
  std::string given = {};  ///< what the artist calls it; empty: nothing of its own
  int64_t time = 0;        ///< seconds since 1970 began (UTC); 0: not known
  Document document;
  size_t bytes = 0;  ///< chunks that this step does not share with the one before
};
using StepPointer = std::shared_ptr<const Step>;

class History {
 public:
  /// Starts with one step that cannot be undone.
  explicit History(Document document, std::string name, size_t memoryBudget = usualBudget());
  /// A history as a file gave it.
  History(std::vector<StepPointer> steps, size_t current, size_t memoryBudget = usualBudget());

  /// A quarter of the machine's memory.
  static size_t usualBudget();
  /// Bytes that steps may take, beside what the current one needs.
  void setBudget(size_t bytes);
  /// What the artist calls steps that gave way to the budget since this was asked last, oldest first.
  std::vector<std::string> takeForgotten() { return std::exchange(forgotten_, {}); }

  const Document& document() const { return steps_[current_]->document; }
  const std::deque<StepPointer>& steps() const { return steps_; }
  size_t current() const { return current_; }
  size_t bytes() const { return bytes_; }

  /// Adds a step after the current one; steps that were undone are dropped, the oldest give way to the
  /// budget.
  void push(Document document, std::string name);
  bool canUndo() const { return current_ > 0; }
  bool canRedo() const { return current_ + 1 < steps_.size(); }
  void goTo(size_t step);
  /// Calls a step something of the artist's own; empty: as it was called before.
  void call(size_t step, std::string given);

 private:
  void keepToBudget();

  std::deque<StepPointer> steps_;
  size_t current_ = 0;
  size_t budget_;
  size_t bytes_ = 0;
  std::vector<std::string> forgotten_;
};

/// A number for a new step.
uint64_t freshStepId();

/// Seconds since 1970 began.
int64_t timeNow();

/// Memory of the chunks `after` holds and `before` does not.
size_t newBytes(const Document& before, const Document& after);

}  // namespace juvenor
