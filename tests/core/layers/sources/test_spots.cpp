// Spots and labyrinths as live layers: how much skin they take, dying out, density, what is worked out anew.
#include "core/layers/sources/patterns.h"
#include "core/surface/build/search.h"
#include "support/covers.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Spots dark(float apart) {
  Spots out;
  out.guides.size.size = apart;
  out.age = 0.2f;
  out.softness = 0;
  out.ramp = {{0, {0.1f, 0.1f, 0.1f}, 1, {}}};
  return out;
}

std::vector<float> coversOf(const Spots& settings, SurfaceMaps& maps, float mask = 1) {
  return test::coversOf(*spotSource(settings), maps, mask);
}

double meanOfCovers(const std::vector<float>& covers) {
  double sum = 0;
  for (const float c : covers) sum += static_cast<double>(c);
  return sum / static_cast<double>(covers.size());
}

}  // namespace

class TestSpots : public QObject {
  Q_OBJECT
 private slots:
  void moreAmountTakesMoreSkin() {
    SurfaceMaps maps(test::surfaceOf(test::sphere(120, 10)));
    Spots spots = dark(3);
    double before = -1;
    for (const float amount : {0.1f, 0.5f, 0.9f}) {
      spots.amount = amount;
      const double now = meanOfCovers(coversOf(spots, maps));
      QVERIFY(now > before + 0.02);
      before = now;
    }
    // of one look the pattern is worked out once
    QVERIFY(spotSource(spots)->isReady(maps));
    spots.look = "maze";
    QVERIFY(!spotSource(spots)->isReady(maps));
    const double maze = meanOfCovers(coversOf(spots, maps));
    QVERIFY(maze > 0.4 && maze < 0.98);
  }

  void dyingOutTheyGrowSmall() {
    SurfaceMaps maps(test::surfaceOf(test::sphere(120, 10)));
    Spots spots = dark(3);
    spots.amount = 0.7f;
    const auto whole = coversOf(spots, maps), half = coversOf(spots, maps, 0.6f);
    QVERIFY(meanOfCovers(half) < 0.8 * meanOfCovers(whole));
    QVERIFY(std::ranges::max(half) > 0.99f);
    QCOMPARE(std::ranges::max(coversOf(spots, maps, 0)), 0.f);
  }

  void aRoundOneDoesNotAskTheDirection() {
    SurfaceMaps maps(test::surfaceOf(test::sphere(60, 10)));
    Spots spots = dark(4);
    QVERIFY(spotSource(spots)->prepare(maps));
    spots.guides.direction.turn = 40;
    QVERIFY(spotSource(spots)->isReady(maps));
    spots.stretch = 1.5f;
    QVERIFY(!spotSource(spots)->isReady(maps));
    const auto stopped = spotSource(spots)->prepare(maps, [](float f) { return f < 0.3f; });
    QVERIFY(!stopped && isCancelled(stopped.error()));
  }

  void parametersComeBack() {
    Spots spots = dark(4);
    spots.look = "net";
    spots.stretch = 1.3f;
    spots.height = -0.2f;
    spots.glossCover = 1;
    const auto back = makeSource("spots", spotSource(spots)->parameters(), 10);
    QVERIFY(back && *spotsOf(**back) == spots);
    QVERIFY((*back)->channels() == (ChannelSet(Channel::Color) | Channel::Gloss | Channel::Relief));
    QCOMPARE((*back)->remark(), std::string("net"));
    QVERIFY(makeSource("spots", {{"look", "mase"}}, 10).error().what.find("\"maze\"") != std::string::npos);
  }
};

JUVENOR_TEST(TestSpots)
}  // namespace juvenor
#include "test_spots.moc"
