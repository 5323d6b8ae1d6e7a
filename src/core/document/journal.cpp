#include "core/document/journal.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <unistd.h>

#include <algorithm>
#include <cstdlib>
#include <random>
#include <set>

namespace juvenor {
namespace fs = std::filesystem;
namespace {

fs::path lockOf(const fs::path& journal) {
  return journal.string() + ".lock";
}

int lockFile(const fs::path& path) {
  const int fd = ::open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0600);
  if (fd >= 0 && ::flock(fd, LOCK_EX | LOCK_NB) != 0) {
    ::close(fd);
    return -1;
  }
  return fd;
}

void removeAll(const fs::path& journal) {
  std::error_code ec;
  for (const char* ending : {"", "-wal", "-shm", "-journal", ".lock"})
    fs::remove(journal.string() + ending, ec);
}

}  // namespace

fs::path journalFolder() {
  const char* state = std::getenv("XDG_STATE_HOME");
  const char* home = std::getenv("HOME");
  const fs::path root =
      state && *state ? fs::path(state) : fs::path(home ? home : "/tmp") / ".local" / "state";
  return root / "juvenor" / "journals";
}

Journal::Journal(fs::path folder, fs::path saved, std::string title)
    : saved_(std::move(saved)), title_(std::move(title)) {
  std::error_code ec;
  fs::create_directories(folder, ec);
  std::random_device device;
  path_ = folder / fmt::format("{}-{:08x}.journal", ::getpid(), device());
  lock_ = lockFile(lockOf(path_));
  thread_ = std::thread([this] { work(); });
}

Journal::~Journal() {
  {
    const std::lock_guard hold(mutex_);
    quit_ = true;
  }
  wake_.notify_all();
  thread_.join();
  store_.reset();
  removeAll(path_);
  if (lock_ >= 0) ::close(lock_);
}

void Journal::keep(std::vector<StepPointer> steps, uint64_t currentStep) {
  {
    const std::lock_guard hold(mutex_);
    waiting_ = Job{std::move(steps), currentStep};
  }
  wake_.notify_all();
}

Outcome Journal::flush() {
  std::unique_lock hold(mutex_);
  idle_.wait(hold, [&] { return !waiting_ && !busy_; });
  return last_;
}

Outcome Journal::state() {
  const std::lock_guard hold(mutex_);
  return last_;
}

void Journal::restartFrom(const fs::path& saved) {
  std::unique_lock hold(mutex_);
  idle_.wait(hold, [&] { return !busy_; });
  waiting_.reset();
  store_.reset();
  std::error_code ec;
  for (const char* ending : {"", "-wal", "-shm"}) fs::remove(path_.string() + ending, ec);
  saved_ = saved;
  title_ = saved.stem().string();
  last_ = Done{};
}

void Journal::work() {
  std::unique_lock hold(mutex_);
  for (;;) {
    wake_.wait(hold, [&] { return quit_ || waiting_; });
    if (quit_) return;
    const Job job = std::move(*waiting_);
    waiting_.reset();
    busy_ = true;
    hold.unlock();
    Outcome result = writeNow(job.steps, job.current);
    hold.lock();
    last_ = std::move(result);
    busy_ = false;
    idle_.notify_all();
  }
}

Outcome Journal::writeNow(const std::vector<StepPointer>& steps, uint64_t currentStep) {
  if (!store_) {
    std::error_code ec;
    for (const char* ending : {"", "-wal", "-shm"}) fs::remove(path_.string() + ending, ec);
    std::string save;
    auto fresh = [&]() -> Result<Store> {
      if (saved_.empty()) return Store::create(path_, *steps.front()->document.sculpt);
      auto base = Store::open(saved_, true);
      if (!base) return base;
      if (auto id = base->meta("save")) save = *id;
      return Store::createBeside(path_, *base);
    }();
    if (!fresh) return fresh.error();
    Outcome ok = fresh->setMeta("base", saved_.string());
    if (ok) ok = fresh->setMeta("base save", save);
    if (ok) ok = fresh->setMeta("title", title_);
    if (ok) ok = fresh->useWriteAhead();
    if (!ok) return ok;
    store_ = std::make_unique<Store>(std::move(*fresh));
  }
  return store_->write(steps, currentStep);
}

namespace {

// What a journal says of itself, or nothing when all its steps are safe elsewhere or it is unreadable.
std::optional<LeftBehind> described(const fs::path& path) {
  auto store = Store::open(path);
  if (!store) return std::nullopt;
  LeftBehind out;
  out.journal = path;
  const auto base = store->meta("base"), title = store->meta("title");
  const auto order = store->stepIds();
  if (!base || !title || !order) return std::nullopt;
  out.saved = *base;
  out.title = *title;
  std::set<uint64_t> safe;
  if (!out.saved.empty())
    if (auto saved = Store::open(out.saved, true))
      if (const auto ids = saved->stepIds()) safe.insert(ids->begin(), ids->end());
  for (const uint64_t id : *order) out.steps += !safe.contains(id);
  // the one step of work never saved is just the sculpt as it was opened
  if (out.saved.empty() && out.steps > 0) --out.steps;
  if (out.steps == 0) return std::nullopt;
  return out;
}

}  // namespace

std::vector<LeftBehind> leftBehind(const fs::path& folder) {
  std::vector<std::pair<fs::file_time_type, LeftBehind>> found;
  std::error_code ec;
  for (const auto& entry : fs::directory_iterator(folder, ec)) {
    if (entry.path().extension() != ".journal") continue;
    const int lock = lockFile(lockOf(entry.path()));
    if (lock < 0) continue;  // somebody paints there right now
    if (auto journal = described(entry.path()))
      found.emplace_back(fs::last_write_time(entry.path(), ec), std::move(*journal));
    else
      removeAll(entry.path());
    ::close(lock);
  }
  std::ranges::sort(found, {}, [](const auto& f) { return f.first; });
  std::vector<LeftBehind> out;
  for (auto& f : found) out.push_back(std::move(f.second));
  return out;
}

Result<Opened> recover(const LeftBehind& journal, const Progress& progress) {
  auto store = Store::open(journal.journal);
  if (!store) return store.error();
  if (journal.saved.empty()) return store->read(progress);
  auto base = Store::open(journal.saved, true);
  if (!base) return base.error();
  const auto save = base->meta("save"), expected = store->meta("base save");
  if (!save || !expected) return Error{"is damaged", journal.saved.string()};
  if (*save != *expected)
    return Error{"was changed since these strokes were made; they cannot be joined to it",
                 journal.saved.string()};
  return store->readOver(*base, progress);
}

void discard(const LeftBehind& journal) {
  removeAll(journal.journal);
}

}  // namespace juvenor
