#include "core/document/store/journal.h"

#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <random>
#include <set>
#include <utility>

#include "core/document/store/in_use.h"
#include "core/document/store/journal_ground.h"
#include "core/user_folders.h"

namespace juvenor {
namespace fs = std::filesystem;
namespace {

fs::path lockOf(const fs::path& journal) {
  return journal.string() + ".lock";
}

// A journal is these files.
std::vector<fs::path> filesOf(const fs::path& journal) {
  std::vector<fs::path> out{journal, groundCopyOf(journal)};
  for (const char* ending : {"-wal", "-shm", "-journal"}) out.emplace_back(journal.string() + ending);
  return out;
}

void removeDatabase(const fs::path& journal) {
  std::error_code ec;
  for (const fs::path& file : filesOf(journal)) fs::remove(file, ec);
}

void removeAll(const fs::path& journal) {
  std::error_code ec;
  removeDatabase(journal);
  fs::remove(lockOf(journal), ec);
}

}  // namespace

fs::path journalFolder() {
  return stateFolder() / "journals";
}

Journal::Journal(fs::path folder, Ground ground, std::string title)
    : ground_(std::move(ground)), title_(std::move(title)) {
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
  if (removes_) removeAll(path_);
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
  idle_.wait(hold, [&] { return idle(); });
  return last_;
}

bool Journal::flushWithin(std::chrono::milliseconds time) {
  std::unique_lock hold(mutex_);
  return idle_.wait_for(hold, time, [&] { return idle(); });
}

Outcome Journal::state() {
  const std::lock_guard hold(mutex_);
  return last_;
}

void Journal::restartFrom(Ground ground) {
  {
    const std::lock_guard hold(mutex_);
    waiting_.reset();
    restart_ = std::move(ground);
    last_ = Done{};
  }
  wake_.notify_all();
}

void Journal::work() {
  std::unique_lock hold(mutex_);
  for (;;) {
    wake_.wait(hold, [&] { return quit_ || waiting_ || restart_; });
    if (quit_) return;
    const auto restart = std::exchange(restart_, {});
    const auto job = std::exchange(waiting_, {});
    busy_ = true;
    hold.unlock();
    Outcome result = caught([&]() -> Outcome {
      if (restart) beginAnew(*restart);
      return job ? writeNow(job->steps, job->current) : Outcome(Done{});
    });
    hold.lock();
    // a write of steps that meanwhile are in the file has nothing to say any more
    if (!restart_) last_ = std::move(result);
    busy_ = false;
    idle_.notify_all();
  }
}

void Journal::beginAnew(const Ground& ground) {
  store_.reset();
  removeDatabase(path_);
  ground_ = ground;
  title_ = ground_.path.stem().string();
}

Result<Store> Journal::begun(const std::vector<StepPointer>& steps) {
  removeDatabase(path_);
  fs::path base = ground_.path;
  auto fresh = [&]() -> Result<Store> {
    if (!base.empty()) {
      auto store = Store::open(base, true);
      if (store && store->save() == ground_.save) return Store::createBeside(path_, *store);
      base.clear();
    }
    return Store::create(path_, steps.front()->document);
  }();
  if (!fresh) return fresh;
  Outcome ok = fresh->setMeta("base", base.string());
  if (ok) ok = fresh->setMeta("base save", base.empty() ? "" : ground_.save);
  if (ok) ok = fresh->setMeta("title", title_);
  if (ok) ok = fresh->useWriteAhead();
  if (!ok) return ok.error();
  return fresh;
}

Outcome Journal::writeNow(const std::vector<StepPointer>& steps, uint64_t currentStep) {
  if (!store_) {
    auto fresh = begun(steps);
    if (!fresh) return fresh.error();
    store_ = std::make_unique<Store>(std::move(*fresh));
  }
  return store_->write(steps, currentStep);
}

namespace {

// What a journal says of itself; nothing when all its steps are safe elsewhere.
Result<std::optional<LeftBehind>> described(const fs::path& path) {
  std::error_code ec;
  if (fs::file_size(path, ec) == 0 && !ec) return std::optional<LeftBehind>();
  auto store = Store::open(path);
  if (!store) {
    // one that was cut off at its first words is nothing again once they were taken back
    if (fs::file_size(path, ec) == 0 && !ec) return std::optional<LeftBehind>();
    return store.error();
  }
  LeftBehind out;
  out.journal = path;
  const auto base = store->meta("base"), title = store->meta("title");
  const auto stored = store->storedSteps();
  if (!base) return base.error();
  if (!title) return title.error();
  if (!stored) return stored.error();
  out.saved = *base;
  out.title = *title;
  std::set<uint64_t> safe;
  // what lies there by now may be anything, or nothing
  if (!out.saved.empty())
    if (auto saved = Store::open(out.saved, true))
      if (const auto ids = saved->stepIds()) safe.insert(ids->begin(), ids->end());
  for (const uint64_t id : *stored) out.steps += !safe.contains(id);
  // the one step of work never saved is just the sculpt as it was opened
  if (out.saved.empty() && out.steps > 0) --out.steps;
  if (out.steps == 0) return std::optional<LeftBehind>();
  return std::optional(std::move(out));
}

}  // namespace

LeftBehindList leftBehind(const fs::path& folder) {
  std::vector<std::pair<fs::file_time_type, LeftBehind>> found;
  LeftBehindList out;
  std::error_code ec;
  for (const auto& entry : fs::directory_iterator(folder, ec)) {
    if (entry.path().extension() != ".journal") continue;
    const int lock = lockFile(lockOf(entry.path()));
    if (lock < 0) continue;  // somebody paints there right now
    auto journal = caught([&] { return described(entry.path()); });
    if (!journal)
      out.unreadable.push_back({journal.error().message(), entry.path().string()});
    else if (*journal)
      found.emplace_back(fs::last_write_time(entry.path(), ec), std::move(**journal));
    else
      removeAll(entry.path());
    ::close(lock);
  }
  std::ranges::sort(found, {}, [](const auto& f) { return f.first; });
  for (auto& f : found) out.journals.push_back(std::move(f.second));
  return out;
}

namespace {

constexpr std::string_view kGroundMissing =
    "the document the strokes were painted on is not there any more, or holds other steps by now";

// What the journal can be read over: where its document is said to be, where it was, or the copy that was
// kept of it. Steps have numbers of their own: as long as those the strokes stand on are there they can be
// read, whatever was added since.
Result<Store> groundFor(Store& journal, const LeftBehind& left, const fs::path& said) {
  const auto order = journal.stepIds();
  const auto stored = journal.storedSteps();
  if (!order) return order.error();
  if (!stored) return stored.error();
  for (const fs::path& place : {said, left.saved, groundCopyOf(left.journal)}) {
    if (place.empty()) continue;
    auto ground = Store::open(place, true);
    if (!ground) continue;
    const auto ids = ground->stepIds();
    if (ids && firstThatStands(*order, *stored, *ids)) return ground;
  }
  return Error{std::string(kGroundMissing), left.saved.string()};
}

}  // namespace

bool isGroundMissing(const Error& error) {
  return error.what == kGroundMissing;
}

Result<Opened> recover(const LeftBehind& journal, const Progress& progress, size_t budget,
                       const fs::path& ground) {
  auto store = Store::open(journal.journal);
  if (!store) return store.error();
  if (journal.saved.empty()) return store->read(progress, budget);
  const auto expected = store->meta("base save");
  if (!expected) return expected.error();
  auto base = groundFor(*store, journal, ground);
  if (!base) return base.error();
  auto opened = store->readOver(*base, progress, budget);
  // saving it will find whether the file is another by now
  if (opened) opened->save = *expected;
  return opened;
}

void discard(const LeftBehind& journal) {
  removeAll(journal.journal);
}

Result<fs::path> putAside(const fs::path& journal) {
  std::error_code ec;
  if (!fs::exists(journal, ec)) return Error{"no such journal", journal.string()};
  const int lock = lockFile(lockOf(journal));
  if (lock < 0) return Error{"somebody paints with it right now", journal.string()};
  const fs::path folder = journal.parent_path() / "aside", there = folder / journal.filename();
  fs::create_directories(folder, ec);
  for (const fs::path& file : filesOf(journal))
    if (!ec && fs::exists(file)) fs::rename(file, folder / file.filename(), ec);
  ::close(lock);
  if (ec) return Error{"could not be put aside (" + ec.message() + ")", journal.string()};
  fs::remove(lockOf(journal), ec);
  return there;
}

}  // namespace juvenor
