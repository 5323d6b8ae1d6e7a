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

class TestSurfaceMaps : public QObject {
  Q_OBJECT
 private slots:
  void manyThreadsMakeAValueOnce() {
    SurfaceMaps maps(test::surfaceOf(test::sphere(24, 5)));
    std::atomic<int> made = 0;
    std::vector<std::thread> threads;
    std::atomic<int> same = 0;
    const auto ask = [&] {
      return *maps.derived<int>("answer", 8, [&]() -> Result<std::shared_ptr<const int>> {
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
        ++made;
        return std::make_shared<const int>(42);
      });
    };
    for (int i = 0; i < 8; ++i) threads.emplace_back([&] { same += *ask() == 42; });
    for (std::thread& t : threads) t.join();
    QCOMPARE(made.load(), 1);
    QCOMPARE(same.load(), 8);
  }
  void aFailureIsNotRemembered() {
    SurfaceMaps maps(test::surfaceOf(test::sphere(24, 5)));
    const auto failing =
        maps.derived<int>("x", 8, []() -> Result<std::shared_ptr<const int>> { return Error{"no"}; });
    QVERIFY(!failing);
    const auto then = maps.derived<int>(
        "x", 8, []() -> Result<std::shared_ptr<const int>> { return std::make_shared<const int>(1); });
    QVERIFY(then && **then == 1);
  }
  // Values of 200 MB each: what somebody holds stays whatever it takes, of the others the oldest goes.
  void derivedValuesGiveWayToYoungerOnes() {
    SurfaceMaps maps(test::surfaceOf(test::sphere(24, 5)));
    int made = 0;
    const auto ask = [&](const std::string& key) {
      return *maps.derived<std::string>(key, size_t{200} << 20,
                                        [&]() -> Result<std::shared_ptr<const std::string>> {
                                          ++made;
                                          return std::make_shared<const std::string>(key);
                                        });
    };
    const auto held = ask("a");
    for (const char* key : {"b", "c", "d", "e", "a"}) QCOMPARE(*ask(key), std::string(key));
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
