#include "app/session/work_on_disk.h"

#include "core/document/store/put_after.h"

namespace juvenor::app {

Journal::Ground WorkOnDisk::ground() const {
  return path_.empty() ? Journal::Ground() : Journal::Ground{path_, save_};
}

void WorkOnDisk::begin(const History& history, QString title, std::filesystem::path path, std::string save) {
  ++work_;
  mark_ = {};
  otherUser_.reset();
  renamed_ = false;
  title_ = std::move(title);
  path_ = std::move(path);
  save_ = std::move(save);
  if (!path_.empty()) {
    if (auto store = Store::open(path_)) store_ = std::make_shared<Store>(std::move(*store));
    if (store_) store_->standOn(save_);
    mark_ = InUse(path_);
    if (!mark_.held()) otherUser_ = userOf(path_);
  }
  savedStep_ = history.steps()[history.current()]->id;
  journal_ = std::make_shared<Journal>(journals_, ground(), title_.toStdString());
  // a sculpt that lies in no document file goes into the journal at once
  if (path_.empty()) keep(history);
}

void WorkOnDisk::putAway(std::unique_ptr<History> history) {
  if (history) former_ = Former{std::move(journal_), std::move(store_), std::move(history)};
}

// Ending a journal waits for what it is writing, and the steps of large work are gigabytes to give back.
void WorkOnDisk::letGo() {
  std::erase_if(leaving_, [](const auto& p) {
    return p.wait_for(std::chrono::seconds(0)) == std::future_status::ready;
  });
  if (!former_) return;
  leaving_.push_back(std::async(std::launch::async, [former = std::move(*former_), now = journal_]() mutable {
    if (now && !now->flush() && former.journal) former.journal->leaveBehind();
    former = {};
    now.reset();
  }));
  former_.reset();
}

void WorkOnDisk::close() {
  leaving_.clear();
  former_.reset();
  journal_.reset();
  store_.reset();
  mark_ = {};
}

bool WorkOnDisk::unsaved(const History& history) const {
  return renamed_ || history.steps()[history.current()]->id != savedStep_;
}

void WorkOnDisk::keep(const History& history) {
  journal_->keep({history.steps().begin(), history.steps().end()}, history.steps()[history.current()]->id);
}

std::function<Result<WorkOnDisk::Saved>()> WorkOnDisk::saving(const History& history,
                                                              const std::filesystem::path& path,
                                                              bool anew) const {
  std::vector<StepPointer> steps(history.steps().begin(), history.steps().end());
  const uint64_t current = steps[history.current()]->id;
  const bool here = path == path_ && !anew;
  // a store belongs to one save at a time: the window starts no second one while the first runs
  return [steps = std::move(steps), current, here, store = store_, save = save_, look = look_, path,
          work = work_]() -> Result<Saved> {
    if (here) {
      std::shared_ptr<Store> same = store;
      // what was moved away or replaced would be written where nobody looks for it
      if (!same || same->hasMoved()) {
        auto opened = Store::open(path);
        if (!opened) return opened.error();
        opened->standOn(save);
        same = std::make_shared<Store>(std::move(*opened));
      }
      if (const Outcome done = same->write(steps, current, look); !done) return done.error();
      return Saved{path, work, current, same};
    }
    auto fresh = saveAs(path, steps, current, look);
    if (!fresh) return fresh.error();
    return Saved{path, work, current, std::make_shared<Store>(std::move(*fresh))};
  };
}

bool WorkOnDisk::noteSaved(const Saved& saved, const History& history) {
  if (saved.work != work_) return false;
  if (saved.path != path_) {
    mark_ = {};
    mark_ = InUse(saved.path);
    otherUser_.reset();
  }
  store_ = saved.store;
  save_ = store_->save();
  path_ = saved.path;
  title_ = QString::fromStdString(path_.stem().string());
  savedStep_ = saved.step;
  renamed_ = false;
  journal_->restartFrom(ground());
  // what was painted while it was written
  if (unsaved(history)) keep(history);
  return true;
}

std::function<Result<Opened>()> WorkOnDisk::puttingAfter(const History& history) const {
  std::vector<StepPointer> mine(history.steps().begin(),
                                history.steps().begin() + static_cast<std::ptrdiff_t>(history.current()) + 1);
  return [mine = std::move(mine), path = path_]() -> Result<Opened> {
    auto store = Store::open(path, true);
    if (!store) return store.error();
    const auto theirs = store->read();
    if (!theirs) return theirs.error();
    auto steps = putAfter(*theirs, mine);
    if (!steps) return steps.error();
    const size_t current = steps->size() - 1;
    return Opened{std::move(*steps), current, theirs->save};
  };
}

}  // namespace juvenor::app
