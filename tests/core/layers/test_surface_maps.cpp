// What a surface remembers: asked for by many threads at once it is made once, and derived values give way.
#include <atomic>
#include <mutex>
#include <thread>

#include "core/document/edits.h"
#include "core/layers/composite.h"
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
  // Values of 200 MB each: the third makes the oldest go, and what somebody still holds lives on.
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
    for (const char* key : {"b", "c", "a"}) QCOMPARE(*ask(key), std::string(key));
    QCOMPARE(made, 4);
    QCOMPARE(*held, std::string("a"));
  }
  // The composite asks for masks and zones from all its threads at once, without anything prepared.
  void chunksAskForThemselves() {
    Document d = test::documentOf(test::sphere(160, 10));
    MaskTerm hollow;
    hollow.map = {MapKind::Occlusion, 2, Vec3::UnitY()};
    d = withFillLayer(d, "Tone", Stratum::Flesh, {0.7f, 0.5f, 0.4f});
    d = *withMaskTerms(d, d.activeLayer, {hollow});
    HueZone zone;
    zone.anchor = {0, 0, 10};
    zone.reach = 6;
    d = withSourceLayer(d, "Zones", Stratum::Flesh, zoneSource({{zone}, 0.5f}));
    const ColorField expected = compositeOf(d.layers, *d.maps, d.bare);
    SurfaceMaps fresh(d.surface);
    ColorField found(d.surface->size());
    std::vector<std::thread> threads;
    std::mutex guard;
    for (size_t first = 0; first < 4; ++first)
      threads.emplace_back([&, first] {
        for (size_t c = first; c < found.chunkCount(); c += 4) {
          auto chunk = compositeChunk(d.layers, fresh, d.bare, c);
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
    hollow.map = {MapKind::Occlusion, 2, Vec3::UnitY()};
    d = withSourceLayer(d, "Ramp", Stratum::Flesh, rampSource({hollow}, {{0, {0, 0, 0}, 1}}));
    const Outcome stopped = prepareLayers(d.layers, *d.maps, [](float) { return false; });
    QVERIFY(!stopped && isCancelled(stopped.error()));
    QVERIFY(prepareLayers(d.layers, *d.maps));
    QVERIFY(d.maps->has(hollow.map));
  }
};

JUVENOR_TEST(TestSurfaceMaps)
}  // namespace juvenor
#include "test_surface_maps.moc"
