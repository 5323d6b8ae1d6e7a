// The document on disk: everything comes back, a damaged or unwritable file gives a message and loses
// nothing.
#include <fcntl.h>
#include <sys/resource.h>
#include <unistd.h>

#include <csignal>
#include <fstream>

#include "core/document/edits/edits.h"
#include "core/document/store/database.h"
#include "core/document/store/journal.h"
#include "core/files.h"
#include "support/cut_off_save.h"
#include "support/history_steps.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {

using test::currentOf;
using test::stepsOf;

namespace {

History someWork() {
  Document d = test::documentOf(test::together(test::plane(90, 10), test::oddities(2)));
  History h(d, "Open");
  h.push(withFillLayer(h.document(), "Tone “1”", Stratum::Flesh, {0.6f, 0.4f, 0.3f}), "Add fill layer");
  h.push(withPaintedLayer(h.document(), "Marks", Stratum::Pigment), "Add layer");
  h.push(*withFilled(h.document(), h.document().activeLayer, {0.1f, 0.2f, 0.3f}, 0.26f, 0), "Fill");
  h.push(*withMask(h.document(), h.document().activeLayer), "Mask");
  h.push(*withMaskFilled(h.document(), h.document().activeLayer, 0, 0.5f, 1), "Fill mask");
  Document wells = h.document();
  wells.wells = {{0.1f, 0.2f, 0.3f}};
  wells.hiddenParts = {1};
  h.push(wells, "Wells");
  h.push(*withRefinement(h.document(), {}), "Four times the points");
  h.push(*withFilled(h.document(), h.document().activeLayer,
                     test::inEveryChannel({0.9f, 0.2f, 0.3f}, 0.8f, 0.3f, 0.01f), 0.5f),
         "Fill");
  LayerChange flatter;
  flatter.strength = {std::nullopt, 0.5f, std::nullopt, -0.25f};
  h.push(*withLayerChanged(h.document(), h.document().activeLayer, flatter), "Strengths");
  h.goTo(7);
  return h;
}

// So many fills of one layer, each in a colour of its own.
History painted(int steps) {
  History h(withPaintedLayer(test::documentOf(test::plane(120, 120)), "Paint", Stratum::Pigment), "Open");
  for (int i = 0; i < steps; ++i)
    h.push(
        *withFilled(h.document(), h.document().activeLayer, {0.05f * static_cast<float>(i), 0.4f, 0.3f}, 1),
        "Fill");
  return h;
}

// Paint that no packing makes smaller.
ColorField noise(const Document& d, std::mt19937& random) {
  ColorField out = *layerOf(d, d.activeLayer)->source->painted();
  for (size_t c = 0; c < out.chunkCount(); ++c) {
    auto chunk = out.writable(c);
    chunk->plane[3].fill(65'535);
    for (size_t p = 0; p < 3; ++p)
      for (uint16_t& v : chunk->plane[p]) v = static_cast<uint16_t>(random());
    out.setChunk(c, std::move(chunk));
  }
  return out;
}

std::string differenceOf(const Document& a, const Document& b) {
  if (const auto d = test::difference(*a.sculpt, *b.sculpt); !d.empty()) return d;
  if (a.surface->positions != b.surface->positions) return "another surface";
  if (a.layers.size() != b.layers.size()) return "another number of layers";
  for (size_t i = 0; i < a.layers.size(); ++i) {
    const Layer &x = *a.layers[i], &y = *b.layers[i];
    if (x.id != y.id || x.name != y.name || x.stratum != y.stratum || x.blend != y.blend ||
        x.opacity != y.opacity || x.strengths != y.strengths || x.visible != y.visible ||
        x.locked != y.locked || &x.source->kind() != &y.source->kind() ||
        x.mask.has_value() != y.mask.has_value())
      return "layer " + x.name + " has other properties";
    if (x.source->fields() && !test::sameValues(*x.source->fields(), *y.source->fields()))
      return "layer " + x.name + " has other colours";
    if (x.mask && !test::sameValues(*x.mask, *y.mask)) return "layer " + x.name + " has another mask";
  }
  if (a.activeLayer != b.activeLayer || a.nextLayer != b.nextLayer || !(a.wells == b.wells) ||
      a.hiddenParts != b.hiddenParts || a.strokeCount != b.strokeCount || a.refinements != b.refinements ||
      a.reliefStep != b.reliefStep || !(a.bare == b.bare))
    return "other properties of the document";
  return {};
}

std::string differenceOf(const std::vector<StepPointer>& a, const std::vector<StepPointer>& b) {
  if (a.size() != b.size()) return "another number of steps";
  for (size_t i = 0; i < a.size(); ++i) {
    if (a[i]->id != b[i]->id || a[i]->name != b[i]->name) return "step " + a[i]->name + " is another";
    if (const auto d = differenceOf(a[i]->document, b[i]->document); !d.empty()) return a[i]->name + ": " + d;
  }
  return {};
}

}  // namespace

class TestStore : public QObject {
  Q_OBJECT
 private slots:
  void everyStepComesBack() {
    const History h = someWork();
    const test::Folder folder;
    QVERIFY(saveAs(folder / "work.juvenor", stepsOf(h), currentOf(h)));
    auto store = Store::open(folder / "work.juvenor", true);
    QVERIFY2(store, store ? "" : store.error().message().c_str());
    const auto opened = store->read();
    QVERIFY2(opened, opened ? "" : opened.error().message().c_str());
    QCOMPARE(opened->current, size_t{7});
    QCOMPARE(QString::fromStdString(differenceOf(stepsOf(h), opened->steps)), QString());
  }
  void savingAgainWritesOnlyWhatIsNew() {
    History h = someWork();
    const test::Folder folder;
    auto store = saveAs(folder / "work.juvenor", stepsOf(h), currentOf(h));
    QVERIFY(store);
    const auto size = std::filesystem::file_size(folder / "work.juvenor");
    // dropping the undone step and adding another
    LayerChange change;
    change.opacity = 0.3f;
    h.push(*withLayerChanged(h.document(), h.document().activeLayer, change), "Opacity");
    QVERIFY(store->write(stepsOf(h), currentOf(h)));
    QVERIFY(std::filesystem::file_size(folder / "work.juvenor") <= size + 8192);
    auto again = Store::open(folder / "work.juvenor");
    const auto opened = again->read();
    QVERIFY(opened);
    QCOMPARE(QString::fromStdString(differenceOf(stepsOf(h), opened->steps)), QString());
    // and going on from the opened one
    History next(opened->steps, opened->current);
    next.push(*withFilled(next.document(), next.document().activeLayer, {0, 0, 0}, 0.1f), "Fill");
    QVERIFY(again->write(stepsOf(next), currentOf(next)));
    const auto third = Store::open(folder / "work.juvenor")->read();
    QVERIFY(third);
    QCOMPARE(QString::fromStdString(differenceOf(stepsOf(next), third->steps)), QString());
  }
  void aHistoryThatWasTrimmedIsWrittenWhole() {
    const test::Folder folder;
    Document d = withPaintedLayer(test::documentOf(test::plane(90, 10)), "p", Stratum::Flesh);
    const size_t fill = chunkCount(d.surface->size()) * sizeof(ColorChunk);
    History h(d, "Open", 3 * fill);
    std::optional<Store> store;
    for (int i = 0; i < 12; ++i) {
      h.push(*withFilled(h.document(), h.document().activeLayer, {0, 0.05f * static_cast<float>(i), 1}, 1),
             "Fill " + std::to_string(i));
      if (!store) {
        auto made = saveAs(folder / "w.juvenor", stepsOf(h), currentOf(h));
        QVERIFY(made);
        store.emplace(std::move(*made));
      } else {
        QVERIFY(store->write(stepsOf(h), currentOf(h)));
      }
    }
    const auto opened = Store::open(folder / "w.juvenor", true)->read();
    QVERIFY2(opened, opened ? "" : opened.error().message().c_str());
    QCOMPARE(QString::fromStdString(differenceOf(stepsOf(h), opened->steps)), QString());
  }
  void paintingForLongKeepsNoOldChunksAlive() {
    const test::Folder folder;
    Document d = withPaintedLayer(test::documentOf(test::plane(90, 10)), "p", Stratum::Flesh);
    History h(d, "Open", 2 * chunkCount(d.surface->size()) * sizeof(ColorChunk));
    const auto store = saveAs(folder / "long.juvenor", stepsOf(h), currentOf(h));
    QVERIFY(store);
    Journal journal(folder.path(), {folder / "long.juvenor", store->save()}, "long");
    h.push(*withFilled(h.document(), h.document().activeLayer, {0, 0, 1}, 1), "First");
    std::weak_ptr<const ColorChunk> early = layerOf(h.document(), d.activeLayer)->source->painted()->chunk(0);
    for (int i = 0; i < 8; ++i) {
      h.push(*withFilled(h.document(), h.document().activeLayer, {0, 0.1f * static_cast<float>(i), 1}, 1),
             "Fill");
      journal.keep(stepsOf(h), currentOf(h));
      QVERIFY(journal.flush());
    }
    QVERIFY(early.expired());
  }
  // A long history is read within the memory it may take, as it would have been kept, and saved like that
  // again.
  void readingKeepsToTheBudget() {
    const test::Folder folder;
    History h = painted(12);
    h.call(1, "first tone");
    QVERIFY(saveAs(folder / "long.juvenor", stepsOf(h), currentOf(h)));
    auto store = Store::open(folder / "long.juvenor");
    const auto all = store->read();
    const auto some = store->read({}, h.bytes() / 3);
    QVERIFY(all && some);
    QCOMPARE(all->steps.size(), h.steps().size());
    QVERIFY(some->steps.size() > 1 && some->steps.size() < h.steps().size());
    QCOMPARE(some->forgotten, std::vector<std::string>{"first tone"});
    QCOMPARE(some->steps[some->current]->id, currentOf(h));
    size_t bytes = 0;
    for (size_t i = 1; i < some->steps.size(); ++i) bytes += some->steps[i]->bytes;
    QVERIFY(bytes <= h.bytes() / 3);
    const Document &told = some->steps.back()->document, &was = h.document();
    QVERIFY(test::sameValues(*layerOf(told, was.activeLayer)->source->fields(),
                             *layerOf(was, was.activeLayer)->source->fields()));
    QVERIFY(store->write(some->steps, some->steps[some->current]->id));
    const auto again = Store::open(folder / "long.juvenor")->read();
    QVERIFY(again && again->steps.size() == some->steps.size());
    QVERIFY(test::sameValues(*layerOf(again->steps.front()->document, was.activeLayer)->source->fields(),
                             *layerOf(some->steps.front()->document, was.activeLayer)->source->fields()));
  }
  void whoOnlyShowsReadsOneStep() {
    const test::Folder folder;
    History h = painted(6);
    h.goTo(3);
    QVERIFY(saveAs(folder / "d.juvenor", stepsOf(h), currentOf(h)));
    const auto shown = Store::open(folder / "d.juvenor", true)->readShown();
    QVERIFY(shown);
    QCOMPARE(shown->steps.size(), size_t{1});
    QCOMPARE(shown->steps[0]->id, currentOf(h));
    QVERIFY(test::sameValues(*layerOf(shown->steps[0]->document, h.document().activeLayer)->source->fields(),
                             *layerOf(h.document(), h.document().activeLayer)->source->fields()));
  }
  // What dropped steps took goes back to the disk with the next save.
  void aFileShrinksWithItsHistory() {
    const test::Folder folder;
    const Document d = withPaintedLayer(test::documentOf(test::plane(900, 900)), "Paint", Stratum::Pigment);
    History h(d, "Open");
    std::mt19937 random(7);
    for (int i = 0; i < 4; ++i) h.push(*withPainted(h.document(), d.activeLayer, noise(d, random)), "Noise");
    auto store = saveAs(folder / "d.juvenor", stepsOf(h), currentOf(h));
    QVERIFY(store);
    const auto before = std::filesystem::file_size(folder / "d.juvenor");
    const std::vector<StepPointer> last{h.steps().back()};
    QVERIFY(store->write(last, last[0]->id));
    const auto after = std::filesystem::file_size(folder / "d.juvenor");
    QVERIFY2(2 * after < before, qPrintable(QString("%1 of %2").arg(after).arg(before)));
    const auto back = Store::open(folder / "d.juvenor")->read();
    QVERIFY(back && back->steps.size() == 1);
    // a file that cannot give single pages back, as older versions wrote it, is written anew
    QVERIFY(saveAs(folder / "old.juvenor", stepsOf(h), currentOf(h)));
    QVERIFY(Database::open(folder / "old.juvenor", Database::Mode::ReadWrite)
                ->run("PRAGMA auto_vacuum = NONE; VACUUM"));
    auto old = Store::open(folder / "old.juvenor");
    QVERIFY(old->write(last, last[0]->id));
    QVERIFY(2 * std::filesystem::file_size(folder / "old.juvenor") < before);
  }
  // What is written to a file nobody finds any more is lost: who writes must know.
  void aFileThatWasMovedIsNoticed() {
    const test::Folder folder;
    History h = painted(2);
    auto store = saveAs(folder / "d.juvenor", stepsOf(h), currentOf(h));
    QVERIFY(store && !store->hasMoved());
    std::filesystem::rename(folder / "d.juvenor", folder / "e.juvenor");
    QVERIFY(store->hasMoved());
    std::filesystem::copy_file(folder / "e.juvenor", folder / "d.juvenor");
    QVERIFY(store->hasMoved());
    const auto gone = Store::open(folder / "f.juvenor");
    QVERIFY(!gone && isGone(gone.error()));
  }
  void otherFilesAreRefusedWithAName() {
    const test::Folder folder;
    std::ofstream(folder / "text.juvenor")
        << "not a document at all, but long enough to look like something to a database";
    std::ofstream(folder / "empty.juvenor");
    for (const char* name : {"text.juvenor", "empty.juvenor", "missing.juvenor"}) {
      const auto store = Store::open(folder / name, true);
      QVERIFY(!store);
      QVERIFY(store.error().message().find(name) != std::string::npos);
    }
    const History h = someWork();
    QVERIFY(saveAs(folder / "new.juvenor", stepsOf(h), currentOf(h)));
    auto db = Database::open(folder / "new.juvenor", Database::Mode::ReadWrite);
    QVERIFY(db->run(("PRAGMA user_version = " + std::to_string(kDocumentFormat + 1)).c_str()));
    const auto newer = Store::open(folder / "new.juvenor", true);
    QVERIFY(!newer && newer.error().what.find("newer version") != std::string::npos);
  }
  // A save that dies after its pages spilled into the file leaves what takes them back beside it: who only
  // reads must not be refused for that.
  void whoReadsTakesBackASaveThatWasCutOff() {
    const test::Folder folder;
    const History h = someWork();
    const auto path = folder / "work.juvenor";
    QVERIFY(saveAs(path, stepsOf(h), currentOf(h)));
    const size_t steps = stepsOf(h).size();
    test::cutOffASave(path);
    QVERIFY(std::filesystem::exists(path.string() + "-journal"));
    auto store = Store::open(path, true);
    QVERIFY2(store, store ? "" : store.error().message().c_str());
    const auto opened = store->read();
    QVERIFY2(opened, opened ? "" : opened.error().message().c_str());
    QCOMPARE(opened->steps.size(), steps);
  }
  // Cut at every 1 % of its length the file is opened or refused, and never crashes.
  void cutDocumentsAreOpenedOrRefused() {
    const test::Folder folder;
    const History h = someWork();
    QVERIFY(saveAs(folder / "whole.juvenor", stepsOf(h), currentOf(h)));
    const std::string bytes = *readBytes(folder / "whole.juvenor");
    int refused = 0;
    for (size_t percent = 0; percent < 100; ++percent) {
      std::ofstream(folder / "cut.juvenor", std::ios::binary | std::ios::trunc)
          << bytes.substr(0, bytes.size() * percent / 100);
      auto store = Store::open(folder / "cut.juvenor", true);
      const bool whole = store && store->read();
      refused += !whole;
    }
    QVERIFY(refused >= 98);
  }
  void scrambledDocumentsNeverCrash() {
    const test::Folder folder;
    const History h = someWork();
    QVERIFY(saveAs(folder / "whole.juvenor", stepsOf(h), currentOf(h)));
    const std::string bytes = *readBytes(folder / "whole.juvenor");
    std::mt19937 random(11);
    for (int round = 0; round < 150; ++round) {
      std::string bad = bytes;
      for (int hit = 0; hit < 8; ++hit) bad[random() % bad.size()] = static_cast<char>(random());
      std::ofstream(folder / "bad.juvenor", std::ios::binary | std::ios::trunc) << bad;
      auto store = Store::open(folder / "bad.juvenor", true);
      if (!store) continue;
      const auto opened = store->read();
      if (!opened) QVERIFY(!opened.error().what.empty());
    }
  }
  void readOnlyPlacesGiveAMessageAndKeepTheOldFile() {
    const test::Folder folder;
    const History h = someWork();
    const auto nowhere = saveAs("/proc/nowhere/work.juvenor", stepsOf(h), currentOf(h));
    QVERIFY(!nowhere);
    QVERIFY(nowhere.error().message().find("/proc/nowhere/work.juvenor") != std::string::npos);
    QVERIFY(saveAs(folder / "work.juvenor", stepsOf(h), currentOf(h)));
    auto readOnly = Store::open(folder / "work.juvenor", true);
    const Outcome denied = readOnly->write(stepsOf(h), currentOf(h));
    QVERIFY(!denied && denied.error().what.find("written") != std::string::npos);
    QVERIFY(Store::open(folder / "work.juvenor", true)->read());
  }
  // A limit on the size of files stands for the full disk: the write fails, the old file stays whole, and
  // once there is room again saving works.
  void aFullDiskLosesNothing() {
    const test::Folder folder;
    History h = someWork();
    auto store = saveAs(folder / "work.juvenor", stepsOf(h), currentOf(h));
    QVERIFY(store);
    const std::vector<StepPointer> before = stepsOf(h);
    std::mt19937 random(1);
    for (int i = 0; i < 6; ++i) {
      ColorField noise = *layerOf(h.document(), h.document().activeLayer)->source->painted();
      for (size_t c = 0; c < noise.chunkCount(); ++c) {
        auto chunk = noise.writable(c);
        for (auto& plane : chunk->plane)
          for (uint16_t& v : plane) v = static_cast<uint16_t>(random());
        noise.setChunk(c, chunk);
      }
      h.push(*withPainted(h.document(), h.document().activeLayer, noise), "Noise");
    }
    std::signal(SIGXFSZ, SIG_IGN);
    rlimit old{};
    getrlimit(RLIMIT_FSIZE, &old);
    rlimit tight = old;
    tight.rlim_cur = std::filesystem::file_size(folder / "work.juvenor") + 200'000;
    setrlimit(RLIMIT_FSIZE, &tight);
    const Outcome full = store->write(stepsOf(h), currentOf(h));
    const auto elsewhere = saveAs(folder / "copy.juvenor", stepsOf(h), currentOf(h));
    setrlimit(RLIMIT_FSIZE, &old);
    QVERIFY(!full && !elsewhere);
    QVERIFY2(full.error().what.find("disk") != std::string::npos, full.error().message().c_str());
    QVERIFY(!std::filesystem::exists(folder / "copy.juvenor") &&
            !std::filesystem::exists(folder / "copy.juvenor.part"));
    const auto opened = Store::open(folder / "work.juvenor", true)->read();
    QVERIFY2(opened, opened ? "" : opened.error().message().c_str());
    QCOMPARE(QString::fromStdString(differenceOf(before, opened->steps)), QString());
    const Outcome later = store->write(stepsOf(h), currentOf(h));
    QVERIFY2(later, later ? "" : later.error().message().c_str());
    const auto whole = Store::open(folder / "work.juvenor", true)->read();
    QVERIFY(whole);
    QCOMPARE(QString::fromStdString(differenceOf(stepsOf(h), whole->steps)), QString());
  }
  // A save that was cut off leaves beside the file what takes it back; another document that is then saved
  // under the same name must not be taken back with it.
  void savingOverACutOffSaveGivesWhatWasSaved() {
    const test::Folder folder;
    const auto path = folder / "work.juvenor", journal = folder / "work.juvenor-journal";
    const History old = someWork();
    QVERIFY(saveAs(path, stepsOf(old), currentOf(old)));
    const std::string before = *readBytes(path);
    std::string halfWritten, beside;
    {
      // so little room in memory that what is begun goes to the disk at once
      auto database = Database::open(path, Database::Mode::ReadWrite);
      QVERIFY(database && database->run("PRAGMA cache_size = 1; PRAGMA cache_spill = 1; BEGIN IMMEDIATE; "
                                        "UPDATE chunk SET data = zeroblob(length(data)); DELETE FROM shape"));
      beside = *readBytes(journal);
      halfWritten = *readBytes(path);
      QVERIFY(database->run("ROLLBACK"));
    }
    QVERIFY(beside.size() > 1000 && halfWritten != before);
    const auto cutOff = [&] { QVERIFY(writeBytes(path, halfWritten) && writeBytes(journal, beside)); };
    // by itself the old one is there again
    cutOff();
    auto again = Store::open(path);
    QVERIFY2(again, again ? "" : again.error().message().c_str());
    QCOMPARE(differenceOf(again->read()->steps[7]->document, old.document()), std::string());
    // and another saved over it is what is read
    cutOff();
    History other(test::documentOf(test::sphere(40, 3)), "Open");
    other.push(withFillLayer(other.document(), "Only this", Stratum::Flesh, {1, 0, 0}), "Add fill layer");
    QVERIFY(saveAs(path, stepsOf(other), currentOf(other)));
    QVERIFY(!std::filesystem::exists(journal));
    auto opened = Store::open(path)->read();
    QVERIFY2(opened, opened ? "" : opened.error().message().c_str());
    QCOMPARE(differenceOf(opened->steps.back()->document, other.document()), std::string());
  }
  void readingTellsProgressAndStops() {
    const test::Folder folder;
    const History h = someWork();
    QVERIFY(saveAs(folder / "work.juvenor", stepsOf(h), currentOf(h)));
    float last = 0;
    QVERIFY(Store::open(folder / "work.juvenor", true)->read([&](float f) {
      return last = std::max(last, f), true;
    }));
    QVERIFY(last > 0.9f);
    const auto stopped = Store::open(folder / "work.juvenor", true)->read([](float) { return false; });
    QVERIFY(!stopped && isCancelled(stopped.error()));
  }
};

JUVENOR_TEST(TestStore)
}  // namespace juvenor
#include "test_store.moc"
