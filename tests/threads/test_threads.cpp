// The engine, the work in the background and the journal as the window drives them, for ThreadSanitizer. The
// pool that shares loops among cores keeps one thread here: its library was not built with the sanitizer, and
// what is looked at is the threads that this program makes itself.
#include <tbb/global_control.h>

#include <QApplication>
#include <thread>

#include "app/engine/engine.h"
#include "app/session/background.h"
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/edit_slides.h"
#include "core/document/edits/edits.h"
#include "core/document/edits/tone_slides.h"
#include "core/document/store/journal.h"
#include "core/layers/composite/composite.h"
#include "core/layers/glimpse.h"
#include "core/layers/sources/patterns.h"
#include "core/layers/sources/ramp.h"
#include "core/render/moment_picture.h"
#include "core/render/still.h"
#include "support/home.h"
#include "support/made.h"
#include "support/photos.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Document painted() {
  Document d = withPaintedLayer(test::documentOf(test::sphere(64, 10)), "Paint", Stratum::Pigment);
  return d;
}

app::Viewing viewingOf(const Document& d) {
  app::Viewing v;
  v.size = {160, 120};
  v.camera = framed({}, v.size, d.surface->bounds);
  return v;
}

}  // namespace

class TestThreads : public QObject {
  Q_OBJECT
 private slots:
  // Strokes, turns, edits, maps being measured, readings and stills at once.
  void theEngineBesideEverything() {
    Document d = painted();
    app::Engine engine;
    app::Viewing viewing = viewingOf(d);
    engine.setViewing(viewing);
    engine.setDocument(d);
    StrokeSetting setting;
    setting.ink = inkKind("lay");
    setting.layer = d.activeLayer;
    setting.brush.radius = 2;
    MaskTerm closed;
    std::atomic<bool> over = false;
    std::thread still([&] {
      while (!over) (void)engine.still(viewing, 1);
    });
    // a pen that hovers over the very places that are being painted
    std::atomic<size_t> looks = 0;
    std::thread hover([&, shown = d] {
      for (int x = 0; !over; ++x)
        looks += engine.probe(shown, {58 + static_cast<float>(x % 26), 60}).has_value();
    });
    size_t strokes = 0, readings = 0;
    for (int round = 0; round < 30; ++round) {
      engine.beginStroke(setting, {{60, 50.f + static_cast<float>(round)}, 0.7f, {0, 0}, 0});
      for (int k = 1; k < 6; ++k) {
        engine.moveStroke({{60 + 4.f * static_cast<float>(k), 60}, 0.7f, {0, 0}, 0.01 * k});
        readings += engine.probe(d, {80, 60}).has_value();
      }
      engine.endStroke();
      viewing.camera = turned(viewing.camera, {4, 0});
      engine.setViewing(viewing);
      for (const app::FinishedStroke& f : engine.finishStrokes()) {
        d = f.document;
        ++strokes;
      }
      if (round % 5 == 0) {
        closed.map = {&kOcclusionMap, 2.f + static_cast<float>(round), Vec3::UnitY()};
        d = withSourceLayer(d, "Ramp", Stratum::Flesh, rampSource({closed}, {{0, {0.2f, 0.1f, 0.1f}, 0.5f}}));
        engine.setDocument(d);
        QVERIFY(engine.rays() || readings == 0);
      }
    }
    over = true;
    still.join();
    hover.join();
    engine.waitSettled();
    QVERIFY(looks > 1000);
    QCOMPARE(strokes, size_t{30});
    QVERIFY(readings > 50);
    QVERIFY(test::sameValues(engine.skin().color(), *compositeOf(d.layers, *d.maps, d.bare)));
  }
  // Strokes through a slide that is thrown too and moves, a line that compares with a checkpoint, grafts laid
  // with their tone adapted; beside them the slide's light is fitted and moments are pictured.
  void photosAndOldSkinsBesidePainting() {
    Document d = *withFilled(painted(), 1, {0.6f, 0.4f, 0.3f}, 1);
    d = *withCheckpoint(d, "Before", 0);
    Slide slide = freshSlide(
        "halves",
        test::photo(64, 64,
                    [](float u, float) {
                      return u < 0.5f ? LinearColor{0.5f, 0.1f, 0.1f} : LinearColor{0.1f, 0.4f, 0.1f};
                    }),
        viewingOf(d).camera);
    d = *withThrow(*withSlide(d, slide), 1);
    d.activeLayer = 1;
    app::Engine engine;
    app::Viewing viewing = viewingOf(d);
    auto compared = std::make_shared<app::ComparedSkin>();
    compared->surface = d.surface;
    compared->skin = *skinOf(d.checkpoints[0].layers, *d.maps, d.bare);
    viewing.compared = compared;
    engine.setViewing(viewing);
    engine.setDocument(d);
    std::atomic<bool> over = false;
    std::thread beside([&, copy = d] {
      while (!over) {
        (void)withLightFitted(copy, copy.slides[0]);
        (void)momentPicture(copy, viewingOf(copy).camera, {48, 36});
      }
    });
    auto paint = std::make_shared<SlidePaint>();
    paint->slide = d.slides[0];
    paint->split.part = PhotoPart::Detail;
    StrokeSetting setting;
    setting.ink = inkKind("lay");
    setting.layer = 1;
    setting.brush.radius = 2;
    setting.slide = paint;
    size_t strokes = 0;
    for (int round = 0; round < 12; ++round) {
      setting.ink = inkKind(round % 3 == 2 ? "restore" : "lay");
      setting.adaptsTo = engine.skinNow();
      engine.beginStroke(setting, {{60, 50.f + static_cast<float>(round)}, 0.7f, {0, 0}, 0});
      engine.moveStroke({{80, 60}, 0.7f, {0, 0}, 0.01});
      engine.endStroke();
      viewing.comparedUpTo = 12 * round;
      engine.setViewing(viewing);
      for (const app::FinishedStroke& f : engine.finishStrokes()) {
        d = f.document;
        ++strokes;
      }
      Slide moved = d.slides[0];
      moved.middle.x() = 0.02f * static_cast<float>(round);
      d = *withSlide(d, moved);
      engine.setDocument(d);
    }
    over = true;
    beside.join();
    engine.waitSettled();
    QCOMPARE(strokes, size_t{12});
    QVERIFY(test::sameValues(engine.skin().color(), *compositeOf(d.layers, *d.maps, d.bare)));
  }
  // Glimpses on one thread, all of it on another, maps and grown patterns shared by both; the last size
  // stays.
  void sizesAreDraggedWhilePatternsGrow() {
    Document d = test::documentOf(test::plane(455, 16));
    QVERIFY(d.surface->size() > kGlimpsedAbove);
    Bands bands;
    bands.guides.size.size = 3;
    bands.guides.size.smaller = {test::areaAt(Vec3(2, 2, 0), 4)};
    d = withSourceLayer(d, "Bands", Stratum::Pigment, bandSource(bands));
    app::Engine engine;
    app::Viewing viewing = viewingOf(d);
    viewing.view = View::Flat;
    engine.setViewing(viewing);
    engine.setDocument(d);
    engine.waitSettled();
    for (int step = 0; step < 4; ++step) {
      bands.guides.size.size *= 1.05f;
      d = *withSource(d, d.activeLayer, bandSource(bands));
      engine.setDocument(d);
      std::this_thread::sleep_for(std::chrono::milliseconds(60 + 90 * step));
      if (const std::string key = bandSource(bands)->grownKey(); d.maps->hasGrown(key))
        QVERIFY(d.maps->grownBytes(key));
    }
    engine.waitSettled();
    QVERIFY(d.maps->hasGrown(bandSource(bands)->grownKey()));
  }
  void newSurfacesWhileOldOnesSettle() {
    app::Engine engine;
    for (int round = 0; round < 6; ++round) {
      const Document d = test::documentOf(test::sphere(20 + 8 * round, 10));
      engine.setViewing(viewingOf(d));
      engine.setDocument(d);
      if (round % 2) engine.drain();
      (void)engine.probe(d, {80, 60});
    }
    engine.waitSettled();
  }
  // Two quick wishes, one after the other: the second result comes, whatever number the system gives a
  // thread.
  void everyResultThatIsStillWantedComes() {
    app::Background background;
    int first = 0, second = 0;
    for (int round = 0; round < 40; ++round) {
      background.start(
          "one", [](const Progress&) -> Outcome { return Done{}; }, [&](const Outcome&) { ++first; });
      if (round % 3 == 0) QTest::qWait(1);
      background.start(
          "two", [](const Progress& p) -> Outcome { return p(0.5f) ? Outcome(Done{}) : cancelledError(); },
          [&](const Outcome& done) { second += static_cast<bool>(done); });
      QTRY_COMPARE(second, round + 1);
    }
    QVERIFY(first < 40);
    QVERIFY(!background.running());
    // a wish that is given up never tells
    background.start(
        "long",
        [](const Progress& p) -> Outcome {
          while (p(0)) std::this_thread::sleep_for(std::chrono::milliseconds(1));
          return cancelledError();
        },
        [&](const Outcome&) { ++second; });
    background.giveUp();
    QTest::qWait(50);
    QCOMPARE(second, 40);
    // one that is cancelled does
    bool told = false;
    background.start(
        "long",
        [](const Progress& p) -> Outcome {
          while (p(0)) std::this_thread::sleep_for(std::chrono::milliseconds(1));
          return cancelledError();
        },
        [&](const Outcome& done) { told = isCancelled(done.error()); });
    background.cancel();
    QTRY_VERIFY(told);
  }
  void theJournalKeepsUpWhileItIsAsked() {
    const test::Folder folder;
    History h(painted(), "Open");
    Journal journal(folder.path(), {}, "Mine");
    for (int n = 0; n < 30; ++n) {
      h.push(*withFilled(h.document(), h.document().activeLayer, {0.01f * static_cast<float>(n), 0, 0}, 0.5f),
             "Fill");
      journal.keep({h.steps().begin(), h.steps().end()}, h.steps()[h.current()]->id);
      (void)journal.state();
      if (n % 7 == 0) (void)journal.flushWithin(std::chrono::milliseconds(2));
    }
    QVERIFY(journal.flush());
  }
};

JUVENOR_TEST(TestThreads)
}  // namespace juvenor

int main(int argc, char** argv) {
  const juvenor::test::Home home;
  const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
  QApplication application(argc, argv);
  return juvenor::test::runAll(QApplication::arguments());
}
#include "test_threads.moc"
