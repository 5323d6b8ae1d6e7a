// Strokes survive a kill: of a process that really paints and is really killed, every finished stroke is
// found again.
#include <sys/wait.h>
#include <unistd.h>

#include <csignal>

#include "core/document/edits/edits.h"
#include "core/document/edits/paint_stroke.h"
#include "core/document/store/journal.h"
#include "core/files.h"
#include "support/history_steps.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {

using test::currentOf;
using test::stepsOf;

namespace {

Document canvas() {
  return withPaintedLayer(test::documentOf(test::plane(60, 60)), "paint", Stratum::Pigment);
}

// Stroke number n, always the same.
Document stroked(const Document& d, Flood& flood, uint32_t n) {
  StrokeSetting setting;
  setting.ink = inkKind("lay");
  setting.layer = d.activeLayer;
  // now and then other channels, and all of them
  if (n % 3 != 1) setting.paint = test::inEveryChannel({}, 0.01f * static_cast<float>(n % 90), 0.4f, 0.1f);
  if (n % 3 != 2) setting.paint.color = {0.01f * static_cast<float>(n % 100), 0.5f, 0.2f};
  setting.brush.radius = 5;
  setting.brush.flow = 0.7f;
  auto stroke = PaintStroke::begin(d, setting, flood);
  SurfacePoint p;
  p.position = {static_cast<float>(n * 7 % 50) - 25, static_cast<float>(n * 13 % 50) - 25, 0};
  (*stroke)->stroke().moveTo(p, 1);
  p.position.x() += 4;
  (*stroke)->stroke().moveTo(p, 0.6f);
  return *(*stroke)->finish();
}

Journal::Ground groundOf(const std::filesystem::path& saved) {
  if (saved.empty()) return {};
  return {saved, Store::open(saved, true)->save()};
}

// Paints until it is killed. Every number written to the pipe is a stroke that is on disk.
[[noreturn]] void paintForever(History h, const std::filesystem::path& folder,
                               const std::filesystem::path& saved, int pipe) {
  Journal journal(folder, groundOf(saved), "Ferry");
  Flood flood;
  for (uint32_t n = 1;; ++n) {
    h.push(stroked(h.document(), flood, n), "Stroke");
    journal.keep(stepsOf(h), currentOf(h));
    if (!journal.flush()) _exit(3);
    if (write(pipe, &n, sizeof(n)) != sizeof(n)) _exit(4);
  }
}

// Starts the painter, kills it after `micros`, and gives the number of the last stroke it said was safe.
uint32_t paintAndKill(const std::filesystem::path& folder, const std::filesystem::path& saved,
                      unsigned micros) {
  // everything that uses other threads comes before the fork
  std::optional<History> h;
  if (saved.empty()) {
    h.emplace(canvas(), "Open");
  } else {
    auto opened = Store::open(saved, true)->read();
    h.emplace(opened->steps, opened->current);
  }
  int ends[2];
  if (pipe(ends) != 0) return 0;
  const pid_t child = fork();
  if (child == 0) {
    close(ends[0]);
    paintForever(std::move(*h), folder, saved, ends[1]);
  }
  close(ends[1]);
  uint32_t last = 0, n = 0;
  // the first stroke tells that painting is under way
  if (read(ends[0], &n, sizeof(n)) == sizeof(n)) last = n;
  usleep(micros);
  kill(child, SIGKILL);
  while (read(ends[0], &n, sizeof(n)) == sizeof(n)) last = n;
  int status = 0;
  waitpid(child, &status, 0);
  close(ends[0]);
  return WIFSIGNALED(status) ? last : 0;
}

}  // namespace

class TestJournal : public QObject {
  Q_OBJECT
 private slots:
  void aHundredKillsLoseNoFinishedStroke() {
    std::mt19937 random(2026);
    for (int round = 0; round < 100; ++round) {
      const test::Folder folder;
      std::filesystem::path saved;
      if (round % 2) {
        saved = folder / "saved.juvenor";
        const History h(canvas(), "Open");
        QVERIFY(saveAs(saved, stepsOf(h), currentOf(h)));
      }
      const uint32_t safe = paintAndKill(folder / "journals", saved, random() % 25'000);
      QVERIFY(safe > 0);
      const auto left = leftBehind(folder / "journals").journals;
      QCOMPARE(left.size(), size_t{1});
      QCOMPARE(left[0].title, std::string("Ferry"));
      auto back = recover(left[0]);
      QVERIFY2(back, back ? "" : back.error().message().c_str());
      const size_t found = back->steps.size() - 1;
      QVERIFY2(found >= safe, qPrintable(QString("round %1: %2 of %3").arg(round).arg(found).arg(safe)));
      // the colours are those of the strokes, not just their number
      if (round % 10 < 2) {
        Document expected = canvas();
        Flood flood;
        for (uint32_t n = 1; n <= found; ++n) expected = stroked(expected, flood, n);
        QVERIFY(
            test::sameValues(*layerOf(expected, expected.activeLayer)->source->fields(),
                             *layerOf(back->steps.back()->document, expected.activeLayer)->source->fields()));
      }
      discard(left[0]);
      QVERIFY(leftBehind(folder / "journals").journals.empty());
    }
  }
  void aJournalInUseIsLeftAlone() {
    const test::Folder folder;
    History h(canvas(), "Open");
    Journal journal(folder.path(), {}, "Mine");
    Flood flood;
    h.push(stroked(h.document(), flood, 1), "Stroke");
    journal.keep(stepsOf(h), currentOf(h));
    QVERIFY(journal.flush());
    const pid_t child = fork();
    if (child == 0) _exit(leftBehind(folder.path()).journals.empty() ? 0 : 1);
    int status = 0;
    waitpid(child, &status, 0);
    QCOMPARE(WEXITSTATUS(status), 0);
  }
  void closingProperlyLeavesNothing() {
    const test::Folder folder;
    {
      History h(canvas(), "Open");
      Journal journal(folder.path(), {}, "Mine");
      journal.keep(stepsOf(h), currentOf(h));
      QVERIFY(journal.flush());
    }
    QVERIFY(std::filesystem::is_empty(folder.path()));
  }
  void savingBeginsTheJournalAnew() {
    const test::Folder folder;
    History h(canvas(), "Open");
    Journal journal(folder / "journals", {}, "Mine");
    Flood flood;
    h.push(stroked(h.document(), flood, 1), "Stroke");
    journal.keep(stepsOf(h), currentOf(h));
    QVERIFY(journal.flush());
    QVERIFY(saveAs(folder / "s.juvenor", stepsOf(h), currentOf(h)));
    journal.restartFrom(groundOf(folder / "s.juvenor"));
    h.push(stroked(h.document(), flood, 2), "Stroke");
    journal.keep(stepsOf(h), currentOf(h));
    QVERIFY(journal.flush());
    // only the stroke, not the sculpt again
    uintmax_t size = 0;
    for (const auto& e : std::filesystem::directory_iterator(folder / "journals"))
      if (e.path().extension() == ".journal") size = std::filesystem::file_size(e.path());
    QVERIFY(size > 0 && size < std::filesystem::file_size(folder / "s.juvenor"));
  }
  // The window goes on at once; what was being written meanwhile is not told of, for it is in the file.
  void beginningAnewWaitsForNoWrite() {
    const test::Folder folder;
    History h(canvas(), "Open");
    Journal journal(folder / "journals", {}, "Mine");
    journal.keep(stepsOf(h), currentOf(h));
    QVERIFY(journal.flush());
    std::filesystem::path path;
    for (const auto& e : std::filesystem::directory_iterator(folder / "journals"))
      if (e.path().extension() == ".journal") path = e.path();
    auto holder = Database::open(path, Database::Mode::ReadWrite);
    QVERIFY(holder && holder->run("BEGIN IMMEDIATE"));
    Flood flood;
    h.push(stroked(h.document(), flood, 1), "Stroke");
    journal.keep(stepsOf(h), currentOf(h));
    QVERIFY(!journal.flushWithin(std::chrono::milliseconds(50)));
    QVERIFY(saveAs(folder / "s.juvenor", stepsOf(h), currentOf(h)));
    journal.restartFrom(groundOf(folder / "s.juvenor"));
    QVERIFY(!journal.flushWithin(std::chrono::milliseconds(0)));
    h.push(stroked(h.document(), flood, 2), "Stroke");
    journal.keep(stepsOf(h), currentOf(h));
    const Outcome kept = journal.flush();
    QVERIFY2(kept, kept ? "" : kept.error().message().c_str());
    const auto stored = Store::open(path, true)->storedSteps();
    QVERIFY(stored);
    QCOMPARE(std::vector<uint64_t>(stored->begin(), stored->end()), std::vector<uint64_t>{currentOf(h)});
  }
  // The strokes come back, and saving them notices that the file is another by now.
  void aSavedFileThatChangedMeanwhileIsNotMixedUp() {
    const test::Folder folder;
    const History h(canvas(), "Open");
    const auto saved = folder / "saved.juvenor";
    auto store = saveAs(saved, stepsOf(h), currentOf(h));
    QVERIFY(store);
    const uint32_t safe = paintAndKill(folder / "journals", saved, 1000);
    QVERIFY(safe > 0);
    QVERIFY(store->write(stepsOf(h), currentOf(h)));
    const auto left = leftBehind(folder / "journals").journals;
    QCOMPARE(left.size(), size_t{1});
    const auto back = recover(left[0]);
    QVERIFY2(back, back ? "" : back.error().message().c_str());
    QVERIFY(back->steps.size() > safe);
    auto again = Store::open(saved);
    again->standOn(back->save);
    const Outcome refused = again->write(back->steps, back->steps.back()->id);
    QVERIFY(!refused && isChangedElsewhere(refused.error()));
  }
  // When the file no longer has the step the strokes stand on they cannot be read, and nothing is thrown
  // away.
  void strokesWithoutTheirGroundStayWhereTheyAre() {
    const test::Folder folder;
    const auto saved = folder / "saved.juvenor";
    const History h(canvas(), "Open"), other(canvas(), "Another");
    QVERIFY(saveAs(saved, stepsOf(h), currentOf(h)));
    QVERIFY(paintAndKill(folder / "journals", saved, 1000) > 0);
    QVERIFY(saveAs(saved, stepsOf(other), currentOf(other)));
    const auto left = leftBehind(folder / "journals").journals;
    QCOMPARE(left.size(), size_t{1});
    const auto back = recover(left[0]);
    QVERIFY(!back && isGroundMissing(back.error()));
    QCOMPARE(leftBehind(folder / "journals").journals.size(), size_t{1});
  }
  // Taken up next time, after the document was opened, gone back in and saved: its dropped steps are what the
  // strokes stand on.
  void stepsThatASaveDropsStayForTheJournal() {
    const test::Folder folder;
    const auto saved = folder / "saved.juvenor";
    Flood flood;
    Document first = canvas(), second = stroked(first, flood, 41);
    History h(first, "Open");
    h.push(second, "Stroke");
    QVERIFY(saveAs(saved, stepsOf(h), currentOf(h)));
    const uint32_t safe = paintAndKill(journalFolder(), saved, 1000);
    QVERIFY(safe > 0);
    h.goTo(0);
    h.push(stroked(first, flood, 77), "Another way");
    auto store = Store::open(saved);
    QVERIFY(store && store->write(stepsOf(h), currentOf(h)));
    QCOMPARE(store->stepIds()->size(), size_t{2});
    // and once more: the copy is of the first time
    QVERIFY(store->write({stepsOf(h).data(), 1}, h.steps()[0]->id));
    const auto left = leftBehind(journalFolder()).journals;
    QCOMPARE(left.size(), size_t{1});
    const auto back = recover(left[0]);
    QVERIFY2(back, back ? "" : back.error().message().c_str());
    QVERIFY(back->steps.size() >= safe + 2);
    Document expected = second;
    for (uint32_t n = 1; n + 2 <= back->steps.size(); ++n) expected = stroked(expected, flood, n);
    QVERIFY(test::sameValues(*layerOf(expected, expected.activeLayer)->source->fields(),
                             *layerOf(back->steps.back()->document, expected.activeLayer)->source->fields()));
    discard(left[0]);
    QVERIFY(std::filesystem::is_empty(journalFolder()));
  }
  void anotherDocumentInItsPlaceLeavesTheGround() {
    const test::Folder folder;
    const auto saved = folder / "saved.juvenor";
    const History h(canvas(), "Open"), other(canvas(), "Another");
    QVERIFY(saveAs(saved, stepsOf(h), currentOf(h)));
    QVERIFY(paintAndKill(journalFolder(), saved, 1000) > 0);
    QVERIFY(saveAs(saved, stepsOf(other), currentOf(other)));
    const auto left = leftBehind(journalFolder()).journals;
    QCOMPARE(left.size(), size_t{1});
    const auto back = recover(left[0]);
    QVERIFY2(back, back ? "" : back.error().message().c_str());
    QCOMPARE(back->steps.front()->id, h.steps().front()->id);
    discard(left[0]);
  }
  void aRenamedDocumentIsAskedFor() {
    const test::Folder folder;
    const auto saved = folder / "saved.juvenor", renamed = folder / "renamed.juvenor";
    const History h(canvas(), "Open");
    QVERIFY(saveAs(saved, stepsOf(h), currentOf(h)));
    const uint32_t safe = paintAndKill(folder / "journals", saved, 1000);
    std::filesystem::rename(saved, renamed);
    const auto left = leftBehind(folder / "journals").journals;
    QCOMPARE(left.size(), size_t{1});
    const auto lost = recover(left[0]);
    QVERIFY(!lost && isGroundMissing(lost.error()));
    const auto back = recover(left[0], {}, kNoBudget, renamed);
    QVERIFY2(back, back ? "" : back.error().message().c_str());
    QVERIFY(back->steps.size() > safe);
  }
  // Killed between a save that dropped the oldest steps and the journal's new beginning: the document's first
  // step is whole again, and no copy is needed.
  void oldestStepsThatGaveWayAreNotMissed() {
    const test::Folder folder;
    const auto saved = folder / "saved.juvenor";
    Flood flood;
    History h(canvas(), "Open");
    for (uint32_t n = 50; n < 53; ++n) h.push(stroked(h.document(), flood, n), "Stroke");
    QVERIFY(saveAs(saved, stepsOf(h), currentOf(h)));
    const uint32_t safe = paintAndKill(journalFolder(), saved, 1000);
    QVERIFY(safe > 0);
    auto steps = stepsOf(h);
    steps.erase(steps.begin(), steps.begin() + 2);
    auto store = Store::open(saved);
    QVERIFY(store && store->write(steps, currentOf(h)));
    const auto left = leftBehind(journalFolder()).journals;
    QCOMPARE(left.size(), size_t{1});
    QVERIFY(!std::filesystem::exists(left[0].journal.string() + ".ground"));
    const auto back = recover(left[0]);
    QVERIFY2(back, back ? "" : back.error().message().c_str());
    QCOMPARE(back->steps.front()->id, steps.front()->id);
    Document expected = h.document();
    for (uint32_t n = 1; n + 2 <= back->steps.size(); ++n) expected = stroked(expected, flood, n);
    QVERIFY(test::sameValues(*layerOf(expected, expected.activeLayer)->source->fields(),
                             *layerOf(back->steps.back()->document, expected.activeLayer)->source->fields()));
    discard(left[0]);
  }
  void aJournalPutAsideIsOfferedNoMore() {
    const test::Folder folder;
    QVERIFY(paintAndKill(folder.path(), {}, 1000) > 0);
    const auto left = leftBehind(folder.path()).journals;
    const auto there = putAside(left.at(0).journal);
    QVERIFY(there && std::filesystem::exists(*there));
    QVERIFY(leftBehind(folder.path()).journals.empty());
    QCOMPARE(leftBehind(there->parent_path()).journals.size(), size_t{1});
  }
  // A newer format, damage, a folder in its place: told with the place it lies at, and kept.
  void aJournalThatCannotBeReadIsKeptAndTold() {
    for (const char* what : {"newer", "damaged", "locked"}) {
      const test::Folder folder;
      QVERIFY(paintAndKill(folder.path(), {}, 3000) > 0);
      const auto path = leftBehind(folder.path()).journals.at(0).journal;
      std::optional<Database> holder;
      if (std::string_view(what) == "newer") {
        QVERIFY(Database::open(path, Database::Mode::ReadWrite)->run("PRAGMA user_version = 99"));
      } else if (std::string_view(what) == "damaged") {
        std::filesystem::remove(path.string() + "-wal");
        QVERIFY(writeBytes(path, std::string(5000, 'x')));
      } else {
        auto database = Database::open(path, Database::Mode::ReadWrite);
        QVERIFY(database && database->run("PRAGMA locking_mode = EXCLUSIVE; BEGIN EXCLUSIVE"));
        holder.emplace(std::move(*database));
      }
      const auto found = leftBehind(folder.path());
      QVERIFY2(found.journals.empty(), what);
      QCOMPARE(found.unreadable.size(), size_t{1});
      QCOMPARE(found.unreadable[0].where, path.string());
      QVERIFY2(!found.unreadable[0].what.empty(), what);
      holder.reset();
      QVERIFY(std::filesystem::exists(path));
    }
  }
  void aFolderThatCannotBeWrittenIsToldAndPaintingGoesOn() {
    History h(canvas(), "Open");
    Journal journal("/proc/nowhere", {}, "Mine");
    Flood flood;
    h.push(stroked(h.document(), flood, 1), "Stroke");
    journal.keep(stepsOf(h), currentOf(h));
    const Outcome told = journal.flush();
    QVERIFY(!told && !told.error().what.empty());
    h.push(stroked(h.document(), flood, 2), "Stroke");
    QCOMPARE(h.steps().size(), size_t{3});
  }
};

JUVENOR_TEST(TestJournal)
}  // namespace juvenor
#include "test_journal.moc"
