// Where the open work lies on disk: its document file, the journal of what is in no file yet, and the mark
// that tells other programs that it is open.
#pragma once

#include <QString>
#include <filesystem>
#include <functional>
#include <future>

#include "core/document/store/in_use.h"
#include "core/document/store/journal.h"

namespace juvenor::app {

class WorkOnDisk {
 public:
  explicit WorkOnDisk(std::filesystem::path journals) : journals_(std::move(journals)) {}

  /// Other work begins: that of the file at `path`, as it was when it bore `save`, so that the journal need
  /// not hold it; or work of no file. It counts as saved.
  void begin(const History& history, QString title, std::filesystem::path path, std::string save);
  /// The work so far goes, as soon as `letGo` is said: its journal holds what nothing else may hold yet.
  void putAway(std::unique_ptr<History> history);
  /// Ends the journal of the work that was put away and gives its steps back, once all that the work now
  /// handed to its own journal is on disk. Takes a while and happens elsewhere.
  void letGo();
  /// The journal is no longer wanted: the work was saved or given up.
  void close();

  const std::filesystem::path& path() const { return path_; }
  const QString& title() const { return title_; }
  /// The process that has the document open too, or nothing.
  std::optional<std::string> otherUser() const { return otherUser_; }
  /// What the next save says of how the work is looked at.
  void setLook(std::string look) { look_ = std::move(look); }

  bool unsaved(const History& history) const;
  /// Names of steps are others than in the file.
  void noteRenamed() { renamed_ = true; }
  /// The work is in no file as it is.
  void noteUnsaved() { savedStep_ = 0; }

  /// Hands all steps over to the journal, which writes what is new beside.
  void keep(const History& history);
  /// Waits until all strokes are on disk.
  Outcome flush() { return journal_ ? journal_->flush() : Outcome(Done{}); }
  bool flushWithin(std::chrono::milliseconds time) { return journal_->flushWithin(time); }
  /// The error of the journal's last write, without waiting.
  Outcome journalState() { return journal_ ? journal_->state() : Outcome(Done{}); }

  /// Saving in three parts: what is to be written, collected here; the writing, on any thread; and taking
  /// note of it, here again. Painting may go on meanwhile. A document that lies elsewhere by now is an error
  /// of `isGone`, unless it is written `anew`; another one in its place one of `isChangedElsewhere`.
  struct Saved {
    std::filesystem::path path;
    uint64_t work = 0;  ///< which one it was
    uint64_t step = 0;
    std::shared_ptr<Store> store;
  };
  std::function<Result<Saved>()> saving(const History& history, const std::filesystem::path& path,
                                        bool anew = false) const;
  /// False when other work was begun meanwhile: that has nothing to do with the file.
  bool noteSaved(const Saved& saved, const History& history);
  /// After a save that was refused because another program had saved: the steps of this work put after those
  /// in the file. Reads the file; for any thread.
  std::function<Result<Opened>()> puttingAfter(const History& history) const;

 private:
  Journal::Ground ground() const;

  std::filesystem::path journals_, path_;
  QString title_;
  std::shared_ptr<Journal> journal_;
  std::shared_ptr<Store> store_;
  InUse mark_;
  std::optional<std::string> otherUser_;
  std::string look_;
  std::string save_;  ///< the save of the file this work stands on
  uint64_t savedStep_ = 0;
  uint64_t work_ = 0;     ///< counts what was begun
  bool renamed_ = false;  ///< steps were, since the last save
  /// Earlier work that was put away.
  struct Former {
    std::shared_ptr<Journal> journal;
    std::shared_ptr<Store> store;
    std::unique_ptr<History> history;
  };
  std::optional<Former> former_;
  std::vector<std::future<void>> leaving_;  ///< what was let go, on its way out
};

}  // namespace juvenor::app
