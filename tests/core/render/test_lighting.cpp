// Light in pieces: whatever was looked at first and however often it was stopped, the picture at rest is the
// same.
#include <atomic>
#include <random>

#include "core/render/lighting.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// A hollow with more than a few chunks, so that there is something to shade and something to wait for.
std::shared_ptr<const Surface> hollow() {
  return test::surfaceOf(test::together(test::sphere(160, 10), test::torus(96, 12, 3)));
}

std::vector<LitSample> settled(const std::shared_ptr<const Surface>& surface, const Rays& rays,
                               const Light& light) {
  Lighting lighting(surface);
  lighting.setLight(light);
  lighting.settle(rays);
  return {lighting.samples().begin(), lighting.samples().end()};
}

}  // namespace

class TestLighting : public QObject {
  Q_OBJECT
 private slots:
  void piecesComeToWhatAllAtOnceGives() {
    const auto surface = hollow();
    const Rays rays(surface, Rays::Quality::Full);
    Light light;
    light.dial = 40;
    const auto expected = settled(surface, rays, light);
    Lighting lighting(surface);
    QVERIFY(chunkCount(surface->size()) > 6);
    lighting.setSeen({2, 3});
    int rounds = 0;
    // mostly called off in the middle of a piece, and the light and the view change on the way
    std::mt19937 random(7);
    std::atomic<int> left = 0;
    const auto stop = [&] { return --left < 0; };
    for (bool more = true; more && rounds < 5000; ++rounds) {
      left = static_cast<int>(random() % 1200);
      more = lighting.advance(rays, stop).more;
      if (rounds == 3) lighting.setSeen({0, 5});
      if (rounds == 6) lighting.setLight(light);
    }
    QVERIFY2(rounds > 8 && rounds < 5000, qPrintable(QString::number(rounds)));
    QVERIFY(std::ranges::equal(lighting.samples(), expected));
  }
  void whatIsSeenComesFirst() {
    const auto surface = hollow();
    const Rays rays(surface, Rays::Quality::Full);
    Lighting lighting(surface);
    lighting.setSeen({4});
    QVERIFY(lighting.firstRaysMissing());
    QVERIFY(!lighting.seenIsLit());
    QVERIFY(lighting.advance(rays, {}).seenChanged);
    QVERIFY(!lighting.firstRaysMissing());
    QVERIFY(lighting.seenIsLit());
    const auto lit = lighting.samples();
    size_t elsewhere = 0, here = 0;
    for (size_t s = 0; s < surface->size(); ++s)
      (s / kChunkSize == 4 ? here : elsewhere) += lit[s] != LitSample{};
    QCOMPARE(elsewhere, size_t{0});
    QVERIFY2(here > kChunkSize * 9 / 10, qPrintable(QString::number(here)));
  }
  // Another light needs no rays anew: what is seen has it at once, and a pixel can be lit before that.
  void anotherLightGoesThroughWhatIsKnown() {
    const auto surface = hollow();
    const Rays rays(surface, Rays::Quality::Full);
    Lighting lighting(surface);
    lighting.settle(rays);
    Light low;
    low.dial = 120;
    lighting.setSeen({1});
    lighting.setLight(low);
    QVERIFY(!lighting.seenIsLit());
    const LitSample now = lighting.at(kChunkSize + 7, true);
    QVERIFY(now != lighting.samples()[kChunkSize + 7]);
    QVERIFY(lighting.lightSeen());
    QVERIFY(lighting.seenIsLit());
    QCOMPARE(lighting.samples()[kChunkSize + 7], now);
    // stopped at once it has laid nothing, and says so
    lighting.setLight({});
    QVERIFY(!lighting.lightSeen([] { return true; }));
    QVERIFY(!lighting.seenIsLit());
  }
  // What is hidden is not there: the skin behind it is open to the sky and to lamps, as if the part were not.
  void hiddenPartsTakeNoLight() {
    const auto surface = hollow();
    const Rays rays(surface, Rays::Quality::Full);
    Light light;
    light.kind = LightKind::Lamps;
    Lighting lighting(surface);
    lighting.setLight(light);
    lighting.settle(rays);
    const std::vector<OpenSample> before(lighting.open().begin(), lighting.open().end());
    lighting.setHidden({1});
    QVERIFY(lighting.advance(rays, {}).more);
    lighting.settle(rays);
    size_t shadowed = 0, balls = 0;
    for (size_t s = 0; s < surface->size(); ++s) {
      if (surface->parts[s] != 0) continue;
      ++balls;
      shadowed += before[s].sky < 255;
      // nothing else stands around a ball
      QCOMPARE(lighting.open()[s].sky, uint8_t{255});
      if (surface->normals[s].dot(lighting.light().lamps[0].toward) > 0.3f)
        QCOMPARE(lighting.open()[s].lamps[0], uint8_t{255});
    }
    QVERIFY2(shadowed > balls / 10, qPrintable(QString::number(shadowed)));
    lighting.setHidden({});
    lighting.settle(rays);
    QVERIFY(std::ranges::equal(lighting.open(), before));
  }
  // The lamp that is mirrored only lights nothing, and a lamp is mirrored where it was placed.
  void aCatchLightIsSeenInTheShineAlone() {
    const auto surface = test::surfaceOf(test::sphere(60, 10));
    const Rays rays(surface, Rays::Quality::Full);
    Light light;
    light.kind = LightKind::Lamps;
    Lighting lighting(surface);
    lighting.setLight(light);
    lighting.settle(rays);
    const std::vector<LitSample> before(lighting.samples().begin(), lighting.samples().end());
    light.lamps[3].on = true;
    QVERIFY(light.lamps[3].shineOnly);
    QVERIFY(lighting.setLight(light));
    lighting.settle(rays);
    QVERIFY(std::ranges::equal(lighting.samples(), before));
    const Vec3 normal = Vec3(0.3f, 0.5f, 0.8f).normalized(), toViewer = Vec3::UnitZ();
    for (const float dial : {0.f, 70.f, -200.f}) {
      light.dial = dial;
      const Lamp placed = mirroredAt(light, light.lamps[3], normal, toViewer);
      QVERIFY((lampDirection(light, placed) + toViewer).normalized().dot(normal) > 1 - 1e-5f);
      QVERIFY(std::abs(placed.around) <= 180 && std::abs(placed.up) <= 90);
    }
    // straight above nothing says which way it was turned
    QCOMPARE(mirroredAt(light, light.lamps[3], Vec3(0, 1, 1).normalized(), toViewer).around,
             light.lamps[3].around);
  }
  void strongLightIsNotCut() {
    const auto surface = test::surfaceOf(test::sphere(40, 10));
    const Rays rays(surface, Rays::Quality::Full);
    Light light;
    light.kind = LightKind::Lamps;
    for (Lamp& lamp : light.lamps) lamp.on = false;
    light.lamps[0].on = true;
    light.lamps[0].kelvin = 6500;
    light.depth = 0;
    const auto brightest = [&](float strength) {
      light.lamps[0].strength = strength;
      float out = 0;
      for (const LitSample& l : settled(surface, rays, light)) out = std::max(out, static_cast<float>(l[1]));
      return out;
    };
    const float one = brightest(1);
    QVERIFY2(one > 0.8f && one < 1.2f, qPrintable(QString::number(one)));
    // a wall that faces a lamp receives its strength, over what little comes from all around
    const float fifty = brightest(50);
    QVERIFY2(std::abs((fifty - one) / 49 - 1) < 0.005f, qPrintable(QString("%1 and %2").arg(one).arg(fifty)));
  }
};

JUVENOR_TEST(TestLighting)
}  // namespace juvenor
#include "test_lighting.moc"
