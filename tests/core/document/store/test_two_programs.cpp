// Two programs at one document: no stroke of either is lost, whoever saves first and whoever is killed.
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include "core/document/edits/edits.h"
#include "core/document/store/in_use.h"
#include "core/document/store/journal.h"
#include "core/document/store/put_after.h"
#include "core/files.h"
#include "support/home.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Document twoLayers() {
  Document d = withPaintedLayer(test::documentOf(test::plane(140, 50)), "Paint", Stratum::Pigment);
  return withPaintedLayer(d, "Other", Stratum::Pigment);
}

const ColorField& paintOf(const Document& d, const char* layer) {
  for (const LayerPointer& l : d.layers)
    if (l->name == layer) return *l->source->painted();
  qFatal("no such layer");
}

uint32_t idOf(const Document& d, const char* layer) {
  for (const LayerPointer& l : d.layers)
    if (l->name == layer) return l->id;
  return 0;
}

// One chunk of a layer in one colour, as a stroke would leave it.
Document dabbed(const Document& d, const char* layer, size_t chunk, uint16_t value) {
  ColorField field = paintOf(d, layer);
  auto written = field.writable(chunk);
  for (auto& plane : written->plane) plane.fill(value);
  field.setChunk(chunk, std::move(written));
  return *withPainted(d, idOf(d, layer), std::move(field));
}

struct Program {
  Store store;
  History history;

  static Program open(const std::filesystem::path& path) {
    auto store = Store::open(path);
    auto opened = store->read();
    History history(std::move(opened->steps), opened->current);
    return {std::move(*store), std::move(history)};
  }
  std::vector<StepPointer> steps() const { return {history.steps().begin(), history.steps().end()}; }
  Outcome save() { return store.write(steps(), history.steps()[history.current()]->id); }
  void dab(const char* layer, size_t chunk, uint16_t value) {
    history.push(dabbed(history.document(), layer, chunk, value), "Stroke");
  }
  Result<std::vector<StepPointer>> afterTheirs(const std::filesystem::path& path) const {
    const auto theirs = Store::open(path, true)->read();
    return putAfter(*theirs, steps());
  }
};

// Does `work` in a process of its own; its exit code, or −1 when it was killed after `micros`.
int elsewhere(const std::function<int()>& work, unsigned micros = 0) {
  const pid_t child = fork();
  if (child == 0) _exit(work());
  if (micros > 0) {
    usleep(micros);
    kill(child, SIGKILL);
  }
  int status = 0;
  waitpid(child, &status, 0);
  return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
}

}  // namespace

class TestTwoPrograms : public QObject {
  Q_OBJECT
 private slots:
  void init() {
    folder_ = std::make_unique<test::Folder>();
    const History h(twoLayers(), "Open");
    QVERIFY(saveAs(path(), std::vector<StepPointer>{h.steps().front()}, h.steps().front()->id));
  }
  void whoSavesSecondIsRefusedAndNothingIsWritten() {
    Program mine = Program::open(path());
    QCOMPARE(elsewhere([&] {
               Program theirs = Program::open(path());
               theirs.dab("Paint", 0, 20'000);
               return theirs.save() ? 0 : 1;
             }),
             0);
    mine.dab("Paint", 2, 40'000);
    const std::string before = *readBytes(path());
    const Outcome refused = mine.save();
    QVERIFY(!refused && isChangedElsewhere(refused.error()));
    QCOMPARE(*readBytes(path()), before);
    // both strokes are there once mine are put after theirs
    const auto both = mine.afterTheirs(path());
    QVERIFY2(both, both ? "" : both.error().message().c_str());
    QCOMPARE(both->size(), size_t{3});
    auto again = Store::open(path());
    QVERIFY(again->write(*both, both->back()->id));
    const Program joined = Program::open(path());
    QCOMPARE(paintOf(joined.history.document(), "Paint").chunk(0)->plane[0][7], uint16_t{20'000});
    QCOMPARE(paintOf(joined.history.document(), "Paint").chunk(2)->plane[0][7], uint16_t{40'000});
  }
  void stepsOfTwoProgramsNeverShareANumber() {
    std::set<uint64_t> ids;
    for (int i = 0; i < 20; ++i) {
      Program one = Program::open(path());
      one.dab("Paint", 0, 1);
      ids.insert(one.history.steps().back()->id);
    }
    QCOMPARE(ids.size(), size_t{20});
  }
  void otherChannelsAtTheSamePlaceAreJoined() {
    Program mine = Program::open(path()), theirs = Program::open(path());
    const uint32_t id = idOf(mine.history.document(), "Paint");
    ChannelValues wet;
    wet[Channel::Gloss] = 0.9f;
    theirs.history.push(*withFilled(theirs.history.document(), id, wet, 1), "Fill");
    QVERIFY(theirs.save());
    mine.dab("Paint", 1, 40'000);
    const auto both = mine.afterTheirs(path());
    QVERIFY2(both, both ? "" : both.error().message().c_str());
    const ChannelFields& fields = *layerOf(both->back()->document, id)->source->fields();
    QCOMPARE(fields.color().chunk(1)->plane[0][7], uint16_t{40'000});
    QCOMPARE(fields.get<Channel::Gloss>().at(kChunkSize + 7)[1], uint16_t{65535});
    mine.history.push(*withFilled(mine.history.document(), id, wet, 0.5f), "Fill");
    const auto clash = mine.afterTheirs(path());
    QVERIFY(!clash && clash.error().what.find("Paint") != std::string::npos);
  }
  // Masks and the guard: neither the paint of one nor the wish of the other to be rid of it goes untold.
  void aMaskTakenAwayHereAndPaintedThereIsToldOf() {
    Program start = Program::open(path());
    const uint32_t id = idOf(start.history.document(), "Paint");
    start.history.push(*withMask(*withMask(start.history.document(), id), kGuard), "Masks");
    QVERIFY(start.save());
    const auto painted = [](const Document& d, uint32_t of) {
      ScalarField mask = of == kGuard ? *d.guard : *layerOf(d, of)->mask;
      auto chunk = mask.writable(0);
      chunk->plane[0].fill(1000);
      mask.setChunk(0, std::move(chunk));
      return *withMaskField(d, of, std::move(mask));
    };
    for (const uint32_t of : {id, kGuard})
      for (const bool iPaint : {true, false}) {
        Program mine = Program::open(path()), theirs = Program::open(path());
        Program &painter = iPaint ? mine : theirs, &remover = iPaint ? theirs : mine;
        painter.history.push(painted(painter.history.document(), of), "Paint mask");
        remover.history.push(*withoutMask(remover.history.document(), of), "Remove mask");
        const Opened file{theirs.steps(), theirs.history.current()};
        const auto both = putAfter(file, mine.steps());
        QVERIFY2(!both && both.error().what.starts_with("both changed"), iPaint ? "mine" : "theirs");
      }
    // taken away on both sides is no conflict
    Program mine = Program::open(path()), theirs = Program::open(path());
    for (Program* p : {&mine, &theirs})
      p->history.push(*withoutMask(p->history.document(), id), "Remove mask");
    const auto both = putAfter({theirs.steps(), theirs.history.current()}, mine.steps());
    QVERIFY(both && !layerOf(both->back()->document, id)->mask);
  }
  // What the document holds beside its layers: whoever changed it has his way, two different ways are told
  // of by name, and the same way twice is none.
  void wellsLandmarksBoardAndSlidesGoWithWhoeverChangedThem() {
    struct Part {
      const char* told;
      void (*change)(Document&, int way);
      bool (*same)(const Document&, const Document&);
    };
    const std::vector<Part> parts{
        {"the bare tone",
         [](Document& d, int way) {
           d.bare = {0.1f * static_cast<float>(way), 0.5f, 0.5f};
         },
         [](const Document& a, const Document& b) { return a.bare == b.bare; }},
        {"the wells",
         [](Document& d, int way) {
           d.wells[1] = {0.1f * static_cast<float>(way), 0.2f, 0.3f};
         },
         [](const Document& a, const Document& b) { return a.wells == b.wells; }},
        {"which parts are hidden", [](Document& d, int way) { d.hiddenParts = {static_cast<uint32_t>(way)}; },
         [](const Document& a, const Document& b) { return a.hiddenParts == b.hiddenParts; }},
        {"the landmarks",
         [](Document& d, int way) {
           d.landmarks = {{std::string(landmarkFacts()[3].key), Vec3(static_cast<float>(way), 0, 0)}};
         },
         [](const Document& a, const Document& b) { return a.landmarks == b.landmarks; }},
        {"the board",
         [](Document& d, int way) {
           BoardPicture picture;
           picture.id = d.nextPicture++;
           picture.name = "gill " + std::to_string(way);
           d.board.push_back(picture);
         },
         [](const Document& a, const Document& b) { return a.board == b.board; }},
        {"the slides",
         [](Document& d, int way) {
           Slide slide;
           slide.id = d.nextSlide++;
           slide.half = 0.1f * static_cast<float>(way);
           d.slides.push_back(slide);
         },
         [](const Document& a, const Document& b) { return a.slides == b.slides; }},
    };
    for (const Part& part : parts) {
      const auto joined = [&](int mineWay, int theirWay) {
        Program mine = Program::open(path()), theirs = Program::open(path());
        const auto push = [&](Program& program, int way) {
          Document d = program.history.document();
          part.change(d, way);
          program.history.push(std::move(d), "Change");
        };
        if (mineWay) push(mine, mineWay);
        theirs.dab("Paint", 1, 20'000);
        if (theirWay) push(theirs, theirWay);
        mine.dab("Paint", 2, 40'000);
        return putAfter({theirs.steps(), theirs.history.current()}, mine.steps());
      };
      const auto changed = [&](int way) {
        Document d = twoLayers();
        part.change(d, way);
        return d;
      };
      for (const auto& [mineWay, theirWay] : {std::pair(3, 0), {0, 3}, {3, 3}}) {
        const auto both = joined(mineWay, theirWay);
        QVERIFY2(both, both ? "" : both.error().message().c_str());
        const Document& d = both->back()->document;
        QVERIFY2(part.same(d, changed(3)) && !part.same(d, twoLayers()), part.told);
        QVERIFY(d.nextSlide > d.slides.size() && d.nextPicture > d.board.size());
        QCOMPARE(paintOf(d, "Paint").chunk(1)->plane[0][0], uint16_t{20'000});
        QCOMPARE(paintOf(d, "Paint").chunk(2)->plane[0][0], uint16_t{40'000});
      }
      const auto clash = joined(2, 3);
      QVERIFY2(!clash, part.told);
      QCOMPARE(clash.error().what, std::string("both changed ") + part.told);
    }
  }
  // Where points lie can only be said by one.
  void aSculptThatStandsAnotherWayIsNotJoined() {
    for (const bool iTurn : {true, false}) {
      Program mine = Program::open(path()), theirs = Program::open(path());
      Program& turner = iTurn ? mine : theirs;
      Placement lying = turner.history.document().placement;
      lying.millimetres = 2 * lying.millimetres;
      auto placed = withPlacement(turner.history.document(), lying);
      QVERIFY(placed);
      turner.history.push(*placed, "Place");
      if (iTurn)
        theirs.dab("Paint", 1, 20'000);
      else
        mine.dab("Paint", 1, 20'000);
      const auto both = putAfter({theirs.steps(), theirs.history.current()}, mine.steps());
      QVERIFY(!both);
      QCOMPARE(both.error().what, std::string("the sculpt was made to stand another way"));
    }
  }
  void theSamePlaceCannotBeJoined() {
    Program mine = Program::open(path()), theirs = Program::open(path());
    theirs.dab("Paint", 1, 20'000);
    QVERIFY(theirs.save());
    mine.dab("Paint", 1, 40'000);
    const auto both = mine.afterTheirs(path());
    QVERIFY(!both && both.error().what.find("Paint") != std::string::npos);
  }
  void layersPropertiesAndNewLayersAreJoined() {
    Program mine = Program::open(path()), theirs = Program::open(path());
    LayerChange darker;
    darker.opacity = 0.5f;
    theirs.history.push(
        *withLayerChanged(theirs.history.document(), idOf(theirs.history.document(), "Other"), darker), "x");
    theirs.history.push(withFillLayer(theirs.history.document(), "Theirs", Stratum::Flesh, {1, 0, 0}), "x");
    QVERIFY(theirs.save());
    mine.history.push(withFillLayer(mine.history.document(), "Mine", Stratum::Surface, {0, 1, 0}), "x");
    mine.history.push(*withMask(mine.history.document(), idOf(mine.history.document(), "Paint")), "x");
    mine.dab("Other", 3, 9'000);
    mine.history.push(*withInvertedMask(*withMask(mine.history.document(), kGuard), kGuard), "x");
    const auto both = mine.afterTheirs(path());
    QVERIFY2(both, both ? "" : both.error().message().c_str());
    const Document& d = both->back()->document;
    QCOMPARE(d.layers.size(), size_t{4});
    QCOMPARE(d.layers[0]->name, std::string("Theirs"));
    QCOMPARE(d.layers[3]->name, std::string("Mine"));
    QVERIFY(d.layers[0]->id != d.layers[3]->id && d.nextLayer > d.layers[3]->id);
    const LayerPointer other = layerOf(d, idOf(d, "Other"));
    QCOMPARE(other->opacity, 0.5f);
    QCOMPARE(other->source->painted()->chunk(3)->plane[1][0], uint16_t{9'000});
    QVERIFY(layerOf(d, idOf(d, "Paint"))->mask && d.guard);
    QCOMPARE(d.guard->at(5)[0], uint16_t{0});
    // what both changed in different ways is not guessed
    LayerChange lighter;
    lighter.opacity = 0.8f;
    mine.history.push(
        *withLayerChanged(mine.history.document(), idOf(mine.history.document(), "Other"), lighter), "x");
    QVERIFY(!mine.afterTheirs(path()));
    // nor is a layer that one changed and the other took away
    Program gone = Program::open(path());
    gone.history.push(*withoutLayer(gone.history.document(), idOf(gone.history.document(), "Other")), "x");
    QVERIFY(gone.save());
    QVERIFY(!mine.afterTheirs(path()));
  }
  // A program is killed while it saves, at any moment; the other then saves. The file is whole, and what was
  // lost is none of the other's.
  void killsBetweenTwoSavesLoseNothing() {
    for (unsigned round = 0; round < 25; ++round) {
      Program mine = Program::open(path());
      mine.dab("Paint", round % 3, static_cast<uint16_t>(1'000 + round));
      (void)elsewhere(
          [&] {
            Program theirs = Program::open(path());
            for (;;) {
              theirs.dab("Other", 1, static_cast<uint16_t>(theirs.history.steps().size()));
              if (!theirs.save()) return 1;
            }
          },
          1 + 1'700 * round);
      if (const Outcome saved = mine.save(); !saved) {
        QVERIFY(isChangedElsewhere(saved.error()));
        const auto both = mine.afterTheirs(path());
        QVERIFY2(both, both ? "" : both.error().message().c_str());
        auto again = Store::open(path());
        const Outcome joined = again->write(*both, both->back()->id);
        QVERIFY2(joined, joined ? "" : joined.error().message().c_str());
      }
      const Program now = Program::open(path());
      QCOMPARE(paintOf(now.history.document(), "Paint").chunk(round % 3)->plane[0][0],
               static_cast<uint16_t>(1'000 + round));
    }
  }
  void anOpenDocumentIsMarkedAsLongAsItsProcessLives() {
    const test::Variable state("XDG_STATE_HOME", folder_->path().string());
    QVERIFY(!userOf(path()));
    {
      const InUse mark(path());
      QVERIFY(mark.held());
      QCOMPARE(elsewhere([&] { return userOf(path()) == std::to_string(getppid()) ? 0 : 1; }), 0);
      QCOMPARE(elsewhere([&] { return InUse(path()).held() ? 1 : 0; }), 0);
    }
    QVERIFY(!userOf(path()));
    // a kill takes the mark away
    QCOMPARE(elsewhere(
                 [&] {
                   const InUse mark(path());
                   for (;;) pause();
                   return 0;
                 },
                 50'000),
             -1);
    QVERIFY(!userOf(path()));
  }

 private:
  std::filesystem::path path() const { return *folder_ / "ferry.juvenor"; }
  std::unique_ptr<test::Folder> folder_;
};

JUVENOR_TEST(TestTwoPrograms)
}  // namespace juvenor
#include "test_two_programs.moc"
