// UV sets that are made here belong to the document: they come before the sculpt's own, go with undo, the
// file and the journal, and a file that lost them is refused.
#include "core/document/edits/edits.h"
#include "core/document/store/database.h"
#include "core/document/store/journal.h"
#include "core/document/store/put_after.h"
#include "core/document/store/store.h"
#include "support/history_steps.h"
#include "support/made.h"
#include "support/old_formats.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

UvSet layout(const Sculpt& sculpt, float shift) {
  UvSet out{"Made", {}, sculpt.corners};
  for (const Vec3& v : sculpt.vertices) out.coordinates.emplace_back(v.x() + shift, v.y());
  out.corner[0] = kNone;
  return out;
}

bool same(const UvSet& a, const UvSet& b) {
  return a.name == b.name && a.coordinates == b.coordinates && a.corner == b.corner;
}

// The sculpt with a set of its own, then one more made, then another, then the first of these taken away.
History worked() {
  Document d = test::documentOf(test::oddities(3));
  History h(d, "Open");
  h.push(*withUvs(h.document(), layout(*d.sculpt, 0)), "Unwrap");
  h.push(*withUvs(h.document(), layout(*d.sculpt, 7)), "Unwrap");
  h.push(*withoutUvs(h.document(), 1), "Take away");
  return h;
}

}  // namespace

class TestMadeUvs : public QObject {
  Q_OBJECT
 private slots:
  void theyComeBeforeTheSculptsOwn() {
    const History h = worked();
    const auto sets = [&](size_t step) -> const std::vector<UvSet>& {
      return h.steps()[step]->document.sculpt->uvSets;
    };
    const size_t own = sets(0).size();
    QCOMPARE(own, size_t{1});
    QCOMPARE(sets(1).size(), own + 1);
    QCOMPARE(sets(2)[0].name, std::string("Made 2"));
    QCOMPARE(sets(2)[1].name, std::string("Made"));
    QVERIFY(same(sets(2)[2], sets(0)[0]));
    QCOMPARE(sets(3).size(), own + 1);
    QVERIFY(same(sets(3)[0], sets(2)[0]));
    QVERIFY(!withoutUvs(h.steps()[3]->document, 1));
    UvSet other = layout(*h.steps()[0]->document.sculpt, 0);
    other.corner.pop_back();
    QVERIFY(!withUvs(h.document(), other));
    QVERIFY(h.steps()[1]->bytes > 0);
  }
  void theyGoWithTheFileAndTheJournal() {
    const test::Folder folder;
    const History h = worked();
    const auto steps = test::stepsOf(h);
    QVERIFY(saveAs(folder / "x.juvenor", std::span(steps).first(2), steps[1]->id));
    {
      auto store = Store::open(folder / "x.juvenor");
      const auto opened = store->read();
      QVERIFY2(opened, opened ? "" : opened.error().message().c_str());
      QVERIFY(same(opened->steps[1]->document.sculpt->uvSets[0], steps[1]->document.sculpt->uvSets[0]));
      QCOMPARE(opened->steps[0]->document.sculpt->uvSets.size(), size_t{1});
      // saved on, then the oldest are dropped
      QVERIFY(store->write(steps, steps[3]->id));
      QVERIFY(store->write(std::span(steps).subspan(3), steps[3]->id));
    }
    const auto last = Store::open(folder / "x.juvenor")->read();
    QVERIFY2(last, last ? "" : last.error().message().c_str());
    QCOMPARE(last->steps.size(), size_t{1});
    QVERIFY(same(last->steps[0]->document.sculpt->uvSets[0], steps[3]->document.sculpt->uvSets[0]));
    QCOMPARE(last->steps[0]->document.sculpt->uvSets.size(), size_t{2});
    // a journal of work of no file, and one of work of a file
    for (const bool saved : {false, true}) {
      std::filesystem::create_directories(folder / "journals");
      QVERIFY(saveAs(folder / "y.juvenor", std::span(steps).first(2), steps[1]->id));
      const std::string save = Store::open(folder / "y.juvenor")->save();
      {
        Journal journal(folder / "journals",
                        saved ? Journal::Ground{folder / "y.juvenor", save} : Journal::Ground{}, "x");
        journal.keep(steps, steps[2]->id);
        QVERIFY(journal.flush());
        journal.leaveBehind();
      }
      const LeftBehindList left = leftBehind(folder / "journals");
      QCOMPARE(left.journals.size(), size_t{1});
      const auto back = recover(left.journals[0]);
      QVERIFY2(back, back ? "" : back.error().message().c_str());
      QCOMPARE(back->steps.size(), steps.size());
      for (size_t i = 0; i < steps.size(); ++i)
        for (size_t u = 0; u < steps[i]->document.sculpt->uvSets.size(); ++u)
          QVERIFY(same(back->steps[i]->document.sculpt->uvSets[u], steps[i]->document.sculpt->uvSets[u]));
      discard(left.journals[0]);
    }
  }
  void stepsArePutAfterThoseOfOthers() {
    const Document d = test::documentOf(test::oddities(3));
    History mine(d, "Open");
    const StepPointer base = mine.steps().front();
    mine.push(*withUvs(mine.document(), layout(*d.sculpt, 0)), "Unwrap");
    const auto theirs = [&](const Document& changed) { return test::changedElsewhere(base, changed); };
    const auto painted = theirs(withFillLayer(d, "Tone", Stratum::Flesh, {0.5f, 0.4f, 0.3f}));
    const auto both = putAfter(painted, test::stepsOf(mine));
    QVERIFY2(both, both ? "" : both.error().message().c_str());
    const Document& now = both->back()->document;
    // (the sculpt has colours of its own)
    QCOMPARE(now.layers.size(), size_t{2});
    QVERIFY(same(now.sculpt->uvSets[0], mine.document().sculpt->uvSets[0]));
    QCOMPARE(now.sculpt->uvSets.size(), size_t{2});
    const auto clash = putAfter(theirs(*withUvs(d, layout(*d.sculpt, 3))), test::stepsOf(mine));
    QVERIFY(!clash && clash.error().what.find("UVs") != std::string::npos);
  }
  void filesOfTheFormatBeforeTakeThem() {
    const test::Folder folder;
    const auto steps = test::stepsOf(worked());
    QVERIFY(saveAs(folder / "x.juvenor", std::span(steps).first(1), steps[0]->id));
    {
      auto db = Database::open(folder / "x.juvenor", Database::Mode::ReadWrite);
      QVERIFY(test::asFormat8(*db));
    }
    auto store = Store::open(folder / "x.juvenor");
    const auto opened = store->read();
    QVERIFY2(opened, opened ? "" : opened.error().message().c_str());
    History more(opened->steps, 0);
    more.push(*withUvs(more.document(), layout(*more.document().sculpt, 2)), "Unwrap");
    QVERIFY(store->write(test::stepsOf(more), test::currentOf(more)));
    const auto again = Store::open(folder / "x.juvenor")->read();
    QVERIFY2(again, again ? "" : again.error().message().c_str());
    QVERIFY(same(again->steps[1]->document.sculpt->uvSets[0], more.document().sculpt->uvSets[0]));
  }
  void damageIsTold() {
    const test::Folder folder;
    const auto steps = test::stepsOf(worked());
    for (const char* damage : {"DELETE FROM uvs", "UPDATE uvs SET data = zeroblob(40)",
                               "UPDATE uvs SET data = substr(data, 1, length(data) / 2)"}) {
      QVERIFY(saveAs(folder / "x.juvenor", steps, steps[3]->id));
      QVERIFY(Database::open(folder / "x.juvenor", Database::Mode::ReadWrite)->run(damage));
      const auto opened = Store::open(folder / "x.juvenor")->read();
      QVERIFY2(!opened && opened.error().what.find("damaged") != std::string::npos, damage);
    }
  }
};

JUVENOR_TEST(TestMadeUvs)
}  // namespace juvenor
#include "test_made_uvs.moc"
