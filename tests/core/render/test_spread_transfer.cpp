// What of any soft light leaves the skin, spread once: against each light spread by itself.
#include "core/color/lab.h"
#include "core/render/environment.h"
#include "core/render/spread_light.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// A head's worth of form: a ball in a collar, and a plate so thin that light comes through it.
std::shared_ptr<const Surface> formed() {
  return test::surfaceOf(test::together(test::together(test::sphere(70, 10), test::torus(96, 12, 3)),
                                        test::sphere(40, 2, {0, 13, 0})));
}

void spreadWhole(Lighting& lighting, SurfaceMaps& maps) {
  for (int piece = 0; piece < 20; ++piece) {
    const auto wanted = lighting.transferToSpread();
    if (!wanted) return;
    QVERIFY(!!spreadPiece(*wanted, maps));
    QVERIFY(lighting.takeTransfer(wanted->counter));
  }
  QFAIL("more pieces than there are");
}

// Of skin that gives back half of the light.
Lab shown(const LitSample& light) {
  const auto of = [&](size_t c) { return 0.5f * std::min(1.f, static_cast<float>(light[c])); };
  return toLab(encode({of(0), of(1), of(2)}));
}

Light overcastAt(float dial) {
  Light light;
  light.dial = dial;
  return light;
}

Light warmWindow() {
  Light light;
  light.kind = LightKind::Surroundings;
  light.environment = std::make_shared<const Environment>(panoramaOf(
      [](const Vec3& d) -> Vec3 { return d.x() > 0.7f ? Vec3(3.f, 2.f, 1.2f) : Vec3(0.1f, 0.15f, 0.25f); }));
  return light;
}

}  // namespace

class TestSpreadTransfer : public QObject {
  Q_OBJECT
 private slots:
  // Both ways give the same skin, wherever light comes from, in hollows and through thin forms; but for a
  // window so bright that nine numbers go below nothing across from it. Who sees no sky is seen by nobody.
  void isAsSpreadingTheLight() {
    const auto surface = formed();
    SurfaceMaps maps(surface);
    const auto rays = *maps.rays();
    Lighting each(surface), once(surface);
    for (Lighting* lighting : {&each, &once}) {
      lighting->setMillimetres(1.5f);
      lighting->settle(*rays);
    }
    spreadWhole(once, maps);
    for (const Light& light : {overcastAt(40), overcastAt(190), warmWindow()}) {
      each.setLight(light);
      once.setLight(light);
      each.settle(*rays);
      once.settle(*rays);
      const auto received = each.toSpread();
      QVERIFY(received);
      QVERIFY(each.takeSpread(*spreadLight(*received, maps), received->counter));
      QVERIFY(!once.toSpread());
      double sum = 0, most = 0, count = 0;
      for (size_t s = 0; s < surface->size(); ++s) {
        if (once.open()[s].sky == 0) continue;
        ++count;
        const double d = deltaE2000(shown(each.samples()[s]), shown(once.samples()[s]));
        sum += d;
        most = std::max(most, d);
      }
      const double mean = sum / count;
      QVERIFY2(mean < 0.1 && most < (light.environment ? 6 : 0.6),
               qPrintable(QString("mean %1, most %2").arg(mean).arg(most)));
      QVERIFY(2 * count > static_cast<double>(surface->size()));
    }
  }
  // While one turns each sample is lit by itself, and as it will be at rest.
  void whatIsLitOnTheWayIsWhatComesToRest() {
    const auto surface = formed();
    SurfaceMaps maps(surface);
    const auto rays = *maps.rays();
    Lighting lighting(surface);
    lighting.settle(*rays);
    spreadWhole(lighting, maps);
    lighting.setLight(overcastAt(100));
    std::vector<LitSample> before;
    for (size_t s = 0; s < surface->size(); ++s) before.push_back(lighting.at(s, false));
    QVERIFY(before.front() != lighting.samples().front());
    lighting.settle(*rays);
    float most = 0;
    for (size_t s = 0; s < surface->size(); ++s)
      for (size_t c = 0; c < 3; ++c)
        most = std::max(
            most, std::abs(static_cast<float>(before[s][c]) - static_cast<float>(lighting.samples()[s][c])));
    // a half float's last place
    QVERIFY2(most < 2e-3f, qPrintable(QString::number(most)));
  }
  // Lamps throw shadows that no nine numbers hold: with them light is spread as it falls.
  void lampsAreSpreadByThemselves() {
    const auto surface = formed();
    SurfaceMaps maps(surface);
    const auto rays = *maps.rays();
    Lighting lighting(surface);
    lighting.settle(*rays);
    spreadWhole(lighting, maps);
    Light lamps;
    lamps.kind = LightKind::Lamps;
    lighting.setLight(lamps);
    // a lamp nothing was cast for lights as the sky does
    QVERIFY(static_cast<float>(lighting.at(0, false)[0]) > 0);
    lighting.settle(*rays);
    QVERIFY(lighting.toSpread());
    // one that is only mirrored needs none
    for (Lamp& lamp : lamps.lamps) lamp.shineOnly = true;
    lighting.setLight(lamps);
    lighting.settle(*rays);
    QVERIFY(!lighting.toSpread());
  }
  // What was spread of another skin is not taken: other depth, other scale, a part that is gone.
  void anotherSkinIsSpreadAnew() {
    const auto surface = formed();
    SurfaceMaps maps(surface);
    const auto rays = *maps.rays();
    Lighting lighting(surface);
    QVERIFY(!lighting.transferToSpread());
    lighting.settle(*rays);
    const auto changed = [&](const std::function<void()>& change) {
      const auto wanted = lighting.transferToSpread();
      QVERIFY(wanted);
      QVERIFY(!!spreadPiece(*wanted, maps));
      change();
      QVERIFY(!lighting.takeTransfer(wanted->counter));
      lighting.settle(*rays);
      spreadWhole(lighting, maps);
      QVERIFY(!lighting.transferToSpread());
    };
    changed([&] { lighting.setMillimetres(3); });
    lighting.setMillimetres(4);
    lighting.settle(*rays);
    changed([&] {
      Light deep;
      deep.depth = 2;
      lighting.setLight(deep);
    });
    lighting.setMillimetres(5);
    lighting.settle(*rays);
    changed([&] { lighting.setHidden({1}); });
    // what cannot be spread is not tried again for the same skin
    lighting.setMillimetres(6);
    lighting.settle(*rays);
    lighting.leaveTransfer(lighting.transferToSpread()->counter);
    QVERIFY(!lighting.transferToSpread());
    // without any depth nothing wanders
    Light hard;
    hard.depth = 0;
    lighting.setLight(hard);
    lighting.settle(*rays);
    QVERIFY(!lighting.transferToSpread() && !lighting.toSpread());
  }
};

JUVENOR_TEST(TestSpreadTransfer)
}  // namespace juvenor
#include "test_spread_transfer.moc"
