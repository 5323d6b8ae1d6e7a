// The strokes since the last save, kept beside the user's state folder, so that a kill at any moment loses at
// most the stroke in the air. A journal is a document file that may go on from a saved one; a thread of its
// own writes it, each step flushed to the disk. A journal left behind by a process that is gone is offered
// back at the next start.
#pragma once

#include <atomic>
#include <chrono>
#include <condition_variable>
#include <mutex>
#include <thread>

#include "core/document/store/store.h"

namespace juvenor {

/// The user's folder of journals, below their state folder.
std::filesystem::path journalFolder();

class Journal {
 public:
  /// The document file whose steps are the ground, as it was at one save; no path when the work was never
  /// saved. When the file is another by the time of the first step, the journal stands by itself.
  struct Ground {
    std::filesystem::path path;
    std::string save;
  };
  /// Begins a journal in `folder`. One without ground holds the sculpt too. `title` is what the work is
  /// called meanwhile.
  Journal(std::filesystem::path folder, Ground ground, std::string title);
  /// Removes the journal: the work was saved, or given up on purpose. A crash never comes here.
  ~Journal();
  /// It stays on disk when this ends, as after a crash: nothing else holds its steps.
  void leaveBehind() { removes_ = false; }

  /// Hands the steps over for writing and returns at once.
  void keep(std::vector<StepPointer> steps, uint64_t currentStep);
  /// Waits until all that was handed over is on disk; the error of the last write, if there was one.
  Outcome flush();
  /// The same, but no longer than this; false when it was too short.
  bool flushWithin(std::chrono::milliseconds time);
  /// The error of the last write without waiting.
  Outcome state();
  /// Everything is in this file now; the journal begins anew from there, as soon as its thread comes to it.
  /// What waits to be written is forgotten: hand over again what the file does not hold.
  void restartFrom(Ground ground);

 private:
  bool idle() const { return !waiting_ && !restart_ && !busy_; }
  void work();
  void beginAnew(const Ground& ground);
  Outcome writeNow(const std::vector<StepPointer>& steps, uint64_t currentStep);
  Result<Store> begun(const std::vector<StepPointer>& steps);

  std::filesystem::path path_;
  Ground ground_;
  std::string title_;
  int lock_ = -1;
  std::atomic<bool> removes_ = true;
  std::mutex mutex_;
  std::condition_variable wake_, idle_;
  struct Job {
    std::vector<StepPointer> steps;
    uint64_t current;
  };
  std::optional<Job> waiting_;
  std::optional<Ground> restart_;  ///< comes before what waits
  bool busy_ = false, quit_ = false;
  Outcome last_ = Done{};
  std::unique_ptr<Store> store_;
  std::thread thread_;
};

/// A journal that nobody holds any more.
struct LeftBehind {
  std::filesystem::path journal;
  std::filesystem::path saved;  ///< the document it goes on from, or empty
  std::string title;
  size_t steps = 0;  ///< how many steps are in no saved file
};
/// What lies in the folder: journals of processes that are gone, oldest first, and those that cannot be read
/// now, with the reason. Only what was read and holds no step is cleared away.
struct LeftBehindList {
  std::vector<LeftBehind> journals;
  std::vector<Error> unreadable;  ///< `where` is the journal's path
};

LeftBehindList leftBehind(const std::filesystem::path& folder);
/// The work of a journal, standing on the save of its document it was begun on. `ground`: where that document
/// is now, when it is not where it was.
Result<Opened> recover(const LeftBehind& journal, const Progress& progress = {}, size_t budget = kNoBudget,
                       const std::filesystem::path& ground = {});
/// Whether an error of it says that the document must be looked for.
bool isGroundMissing(const Error& error);
void discard(const LeftBehind& journal);
/// Moves a journal, readable or not, into the folder "aside" beside it, where it is offered no more. Gives
/// the place it has now. One that somebody paints with is left where it is.
Result<std::filesystem::path> putAside(const std::filesystem::path& journal);

}  // namespace juvenor
