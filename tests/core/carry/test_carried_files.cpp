// Documents whose steps stand on different sculpts: what is written can be read, undo brings the old one
// back.
#include <QtTest/QtTest>

#include "core/carry/carry_over.h"
#include "core/document/edits/edits.h"
#include "core/document/history.h"
#include "core/document/store/journal.h"
#include "core/document/store/store.h"
#include "core/layers/sources/painted.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Document painted() {
  const Document d = test::documentOf(test::sphere(40, 50));
  ChannelFields fields(d.surface->size());
  for (size_t c = 0; c < fields.color().chunkCount(); ++c) {
    auto chunk = fields.color().writable(c);
    for (size_t i = 0; i < kChunkSize; ++i)
      setSample(*chunk, i, {static_cast<uint16_t>(i * 16), 20000, static_cast<uint16_t>(c * 999), 65535});
    fields.color().setChunk(c, chunk);
  }
  return withSourceLayer(d, "Paint", Stratum::Pigment, paintedSource(std::move(fields)));
}

Document carriedTo(const Document& old, int rings) {
  auto out = carriedOver(old, std::make_shared<const Sculpt>(test::sphere(rings, 50)));
  if (!out) qFatal("%s", out.error().what.c_str());
  return std::move(out->document);
}

// Four steps on three sculpts.
History threeSculpts() {
  History out(painted(), "Opened");
  out.push(carriedTo(out.document(), 46), "Carried over");
  out.push(*withMask(out.document(), kGuard), "Guard");
  out.push(carriedTo(out.document(), 54), "Carried over");
  return out;
}

bool isSame(const Document& a, const Document& b) {
  return a.shape == b.shape && test::difference(*a.sculpt, *b.sculpt).empty() &&
         a.surface->positions.size() == b.surface->positions.size() &&
         test::sameValues(*a.layers.back()->source->fields(), *b.layers.back()->source->fields()) &&
         a.doubt.has_value() == b.doubt.has_value() && (!a.doubt || test::sameValues(*a.doubt, *b.doubt)) &&
         a.guard.has_value() == b.guard.has_value() && (!a.guard || test::sameValues(*a.guard, *b.guard)) &&
         a.reliefStep == b.reliefStep;
}

std::vector<StepPointer> stepsOf(const History& history) {
  return {history.steps().begin(), history.steps().end()};
}

}  // namespace

class TestCarriedFiles : public QObject {
  Q_OBJECT
 private slots:
  void everyStepComesBackOnItsSculpt() {
    const test::Folder folder;
    const History history = threeSculpts();
    const auto steps = stepsOf(history);
    {
      const auto saved = saveAs(folder / "work.juvenor", steps, steps.back()->id);
      QVERIFY2(saved, saved ? "" : saved.error().what.c_str());
    }
    auto store = Store::open(folder / "work.juvenor");
    QVERIFY(store);
    const auto opened = store->read();
    QVERIFY2(opened, opened ? "" : opened.error().what.c_str());
    QCOMPARE(opened->steps.size(), steps.size());
    for (size_t i = 0; i < steps.size(); ++i) QVERIFY(isSame(opened->steps[i]->document, steps[i]->document));
    // doubt is a map again
    MapSetting doubt;
    doubt.kind = &kDoubtMap;
    const Document& last = opened->steps.back()->document;
    QCOMPARE((*last.maps->map(doubt))->at(17), last.doubt->at(17)[0]);
    QVERIFY(store->readShown());
  }
  // one after the other into the same file, and when the oldest give way
  void savesFollowTheWork() {
    const test::Folder folder;
    const History history = threeSculpts();
    auto steps = stepsOf(history);
    auto store = saveAs(folder / "work.juvenor", std::span(steps).first(1), steps[0]->id);
    QVERIFY(store);
    for (size_t count = 2; count <= steps.size(); ++count)
      QVERIFY(store->write(std::span(steps).first(count), steps[count - 1]->id));
    auto again = Store::open(folder / "work.juvenor");
    QVERIFY(isSame(again->read()->steps.back()->document, steps.back()->document));
    // undone and painted on: the third sculpt goes from the file
    const auto shortened = std::span(steps).first(2);
    QVERIFY(store->write(shortened, steps[1]->id));
    again = Store::open(folder / "work.juvenor");
    QCOMPARE(again->read()->steps.size(), size_t{2});
    QVERIFY(isSame(again->read()->steps.back()->document, steps[1]->document));
    // the oldest give way: the file begins on another sculpt than it was made with
    const auto later = std::span(steps).last(2);
    QVERIFY(store->write(later, steps.back()->id));
    again = Store::open(folder / "work.juvenor");
    QVERIFY(isSame(again->read()->steps.front()->document, later.front()->document));
    const auto fresh = saveAs(folder / "fresh.juvenor", later, steps.back()->id);
    QVERIFY(fresh);
    again = Store::open(folder / "fresh.juvenor");
    for (size_t i = 0; i < 2; ++i) QVERIFY(isSame(again->read()->steps[i]->document, later[i]->document));
  }
  void aJournalHoldsTheNewSculpt() {
    const test::Folder folder;
    const History history = threeSculpts();
    const auto steps = stepsOf(history);
    const auto saved = saveAs(folder / "work.juvenor", std::span(steps).first(1), steps[0]->id);
    QVERIFY(saved);
    for (const bool grounded : {true, false}) {
      const std::filesystem::path at = folder / (grounded ? "grounded" : "alone");
      {
        Journal journal(
            at, grounded ? Journal::Ground{folder / "work.juvenor", saved->save()} : Journal::Ground{},
            "Work");
        journal.keep(steps, steps.back()->id);
        QVERIFY(journal.flush());
        journal.leaveBehind();
      }
      const auto left = leftBehind(at);
      QCOMPARE(left.journals.size(), size_t{1});
      const auto found = recover(left.journals.front());
      QVERIFY2(found, found ? "" : found.error().what.c_str());
      for (size_t i = 0; i < steps.size(); ++i)
        QVERIFY(isSame(found->steps[i]->document, steps[i]->document));
    }
  }
  // a damaged sculpt is told, not opened half
  void aDamagedSculptIsTold() {
    const test::Folder folder;
    const auto steps = stepsOf(threeSculpts());
    QVERIFY(saveAs(folder / "work.juvenor", steps, steps.back()->id));
    for (const char* harm :
         {"UPDATE sculpt SET data = x'00' WHERE name = 'vertices'", "DELETE FROM sculpt WHERE name = 'names'",
          "DELETE FROM sculpt", "UPDATE sculpt SET fingerprint = 'x' || fingerprint",
          "UPDATE step SET state = replace(state, '\"shape\":', '\"shape\":1')"}) {
      std::filesystem::copy_file(folder / "work.juvenor", folder / "harmed.juvenor",
                                 std::filesystem::copy_options::overwrite_existing);
      {
        auto db = Database::open(folder / "harmed.juvenor", Database::Mode::ReadWrite);
        QVERIFY(db && db->run(harm));
      }
      auto store = Store::open(folder / "harmed.juvenor");
      const auto opened = store->read();
      QVERIFY2(!opened && !opened.error().what.empty(), harm);
    }
  }
};

JUVENOR_TEST(TestCarriedFiles)

}  // namespace juvenor

#include "test_carried_files.moc"
