// What a surface remembers: asked for by many threads at once it is made once, and derived values give way.
#include <atomic>
#include <mutex>
#include <thread>

#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/ramp.h"
#include "core/layers/sources/zones.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {

namespace {

// What says of itself what it takes.
struct Answer {
  int value;
  size_t takes = 8;
  size_t bytes() const { return takes; }
};
using AnswerPointer = std::shared_ptr<const Answer>;

}  // namespace

class TestSurfaceMaps : public QObject {
  Q_OBJECT
 private slots:
  void manyThreadsMakeAValueOnce() {
    SurfaceMaps maps(test::surfaceOf(test::sphere(24, 5)));
    std::atomic<int> made = 0;
    std::vector<std::thread> threads;
    std::atomic<int> same = 0;
    const auto ask = [&] {
      return *maps.derived<Answer>("answer", [&]() -> Result<AnswerPointer> {
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
        ++made;
        return std::make_shared<const Answer>(Answer{42});
      });
    };
    for (int i = 0; i < 8; ++i) threads.emplace_back([&] { same += ask()->value == 42; });
    for (std::thread& t : threads) t.join();
    QCOMPARE(made.load(), 1);
    QCOMPARE(same.load(), 8);
  }
  void aFailureIsNotRemembered() {
    SurfaceMaps maps(test::surfaceOf(test::sphere(24, 5)));
    const auto failing = maps.derived<Answer>("x", []() -> Result<AnswerPointer> { return Error{"no"}; });
    QVERIFY(!failing);
    const auto then = maps.derived<Answer>(
        "x", []() -> Result<AnswerPointer> { return std::make_shared<const Answer>(Answer{1}); });
    QVERIFY(then && (*then)->value == 1);
  }
  // Values of 200 MB each: what somebody holds stays whatever it takes, of the others the oldest goes.
  void derivedValuesGiveWayToYoungerOnes() {
    SurfaceMaps maps(test::surfaceOf(test::sphere(24, 5)));
    int made = 0;
    const auto ask = [&](const std::string& key) {
      return *maps.derived<Answer>(key, [&]() -> Result<AnswerPointer> {
        ++made;
        return std::make_shared<const Answer>(Answer{key[0], size_t{200} << 20});
      });
    };
    const auto held = ask("a");
    for (const char* key : {"b", "c", "d", "e", "a"}) QCOMPARE(ask(key)->value, int{key[0]});
    QCOMPARE(made, 5);
    (void)ask("e");
    QCOMPARE(made, 5);
    (void)ask("b");
    QCOMPARE(made, 6);
  }
  // Several threads prepare the same layers at once on one surface, and composite what they got.
  void layersPrepareFromAnyThread() {
    Document d = test::documentOf(test::sphere(160, 10));
    MaskTerm hollow;
    hollow.map = {&kOcclusionMap, 2, Vec3::UnitY()};
    d = withFillLayer(d, "Tone", Stratum::Flesh, {0.7f, 0.5f, 0.4f});
    d = *withMaskTerms(d, d.activeLayer, {hollow});
    HueZone zone;
    zone.anchor = {0, 0, 10};
    zone.reach = 6;
    d = withSourceLayer(d, "Zones", Stratum::Flesh, zoneSource({{zone}, 0.5f}));
    const ColorField expected = *compositeOf(d.layers, *d.maps, d.bare);
    SurfaceMaps fresh(d.surface);
    ColorField found(d.surface->size());
    std::vector<std::thread> threads;
    std::mutex guard;
    for (size_t first = 0; first < 4; ++first)
      threads.emplace_back([&, first] {
        const PreparedStack stack = *prepared(d.layers, fresh);
        for (size_t c = first; c < found.chunkCount(); c += 4) {
          auto chunk = compositeChunk(stack, d.bare, c);
          const std::lock_guard hold(guard);
          found.setChunk(c, std::move(chunk));
        }
      });
    for (std::thread& t : threads) t.join();
    QVERIFY(test::sameValues(found, expected));
  }
  void preparingCanBeCancelled() {
    Document d = test::documentOf(test::sphere(60, 10));
    MaskTerm hollow;
    hollow.map = {&kOcclusionMap, 2, Vec3::UnitY()};
    d = withSourceLayer(d, "Ramp", Stratum::Flesh, rampSource({hollow}, {{0, {0, 0, 0}, 1}}));
    const auto stopped = prepared(d.layers, *d.maps, [](float) { return false; });
    QVERIFY(!stopped && isCancelled(stopped.error()));
    // what would take time is told to be waiting, and shows nothing
    const PreparedStack now = preparedNow(d.layers, *d.maps, {});
    QVERIFY(now.front().waiting && !now.front().source && !d.maps->known(hollow.map));
    QVERIFY(prepared(d.layers, *d.maps));
    const PreparedStack then = preparedNow(d.layers, *d.maps, now);
    QVERIFY(!then.front().waiting);
    QCOMPARE(changedChunks(now, then, d.surface->size()).size(), chunkCount(d.surface->size()));
    QVERIFY(d.maps->known(hollow.map));
  }
};

JUVENOR_TEST(TestSurfaceMaps)
}  // namespace juvenor
#include "test_surface_maps.moc"
