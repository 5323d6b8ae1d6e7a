// What many places mirror at once is what each mirrors alone, by the formulas of shine.h and aperture.h,
// which tests/reference checks against integrals.
#include <random>

#include "core/render/aperture.h"
#include "core/render/shine.h"
#include "core/render/shine_places.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

struct Place {
  Vec3 normal, bent, toViewer, toward, reflectance, walls;
  float open, sharp;
  std::array<float, 2> width;
  std::array<float, kLampCount> lamps;
};

class Chance {
 public:
  explicit Chance(uint32_t seed) : random_(seed) {}
  float operator()(float low, float high) { return std::uniform_real_distribution(low, high)(random_); }
  Vec3 direction() {
    std::normal_distribution<float> n;
    return Vec3(n(random_), n(random_), n(random_)).normalized();
  }
  Vec3 color() { return {(*this)(0, 1), (*this)(0, 1), (*this)(0, 1)}; }

 private:
  std::mt19937 random_;
};

Place somePlace(Chance& chance) {
  Place p;
  p.normal = chance.direction();
  p.bent = (p.normal + 0.3f * chance.direction()).normalized();
  p.toViewer = (p.normal + 1.2f * chance.direction()).normalized();
  p.toward = (p.normal + 0.8f * chance.direction()).normalized();
  p.reflectance = chance.color();
  p.walls = chance.color();
  p.open = chance(0, 1) < 0.3f ? 1.f : chance(0, 1);
  p.sharp = chance(0, 1) < 0.3f ? 1.f : chance(0, 1);
  // (what shine.h says of one place is rough in narrower lobes)
  for (float& w : p.width) w = std::pow(chance(0.15f, 1), 2.f);
  for (float& l : p.lamps) l = chance(0, 1) < 0.3f ? 0.f : chance(0, 1);
  return p;
}

void add(ShinePlaces& to, const Place& p) {
  const size_t at = to.count++;
  ShinePlaces::set(to.normal, at, p.normal);
  ShinePlaces::set(to.bent, at, p.bent);
  ShinePlaces::set(to.toViewer, at, p.toViewer);
  ShinePlaces::set(to.toward, at, p.toward);
  ShinePlaces::set(to.reflectance, at, p.reflectance);
  ShinePlaces::set(to.walls, at, p.walls);
  to.open[at] = p.open;
  to.sharp[at] = p.sharp;
  for (size_t i = 0; i < 2; ++i) to.width[i][at] = p.width[i];
  for (size_t l = 0; l < kLampCount; ++l) to.lamps[l][at] = p.lamps[l];
}

// Light and what is taken, lobe by lobe.
std::pair<Vec3, Vec3> alone(const LitBy& by, const Place& p) {
  Vec3 light = Vec3::Zero(), taken = Vec3::Zero();
  const Vec3 mirror = 2 * p.bent.dot(p.toViewer) * p.bent - p.toViewer;
  for (size_t i = 0; i < 2; ++i) {
    const float part = i == 0 ? p.sharp : 1 - p.sharp, width = p.width[i];
    const auto [scale, offset] = reflected(std::max(1e-3f, p.bent.dot(p.toViewer)), width);
    const Vec3 whole = scale * p.reflectance + Vec3::Constant(offset);
    const Vec3 raised = Vec3::Ones() + (1 / std::clamp(scale + offset, 0.1f, 1.f) - 1) * p.reflectance;
    const float through = p.open >= 1 ? 1 : mirroredThrough({p.open, p.toward}, p.normal, mirror, width);
    Vec3 sum = (through * mirrored(by, mirror, width) + (1 - through) * p.walls).cwiseProduct(whole);
    for (size_t l = 0; l < kLampCount; ++l) {
      const auto [shine, away] =
          mirroredDisc(p.bent, p.toViewer, by.lamps[l].toward, by.lamps[l].size, width);
      for (int c = 0; c < 3; ++c)
        sum[c] += shine * p.lamps[l] * by.lamps[l].strength[c] * schlick(p.reflectance[c], 1 - away);
    }
    light += part * sum.cwiseProduct(raised);
    taken += part * whole;
  }
  const float outside = seenFromOutside(p.normal, p.toViewer);
  return {outside * light, (outside * taken).cwiseMin(1.f)};
}

}  // namespace

class TestShinePlaces : public QObject {
  Q_OBJECT
 private slots:
  void manyAreAsEachAlone_data() {
    QTest::addColumn<int>("kind");
    QTest::newRow("sky") << static_cast<int>(LightKind::Overcast);
    QTest::newRow("lamps") << static_cast<int>(LightKind::Lamps);
  }
  void manyAreAsEachAlone() {
    QFETCH(int, kind);
    Light light;
    light.kind = static_cast<LightKind>(kind);
    light.lamps[3].on = true;
    const LitBy by = litBy(light);
    Chance chance(7);
    float brightest = 0;
    size_t dark = 0;
    for (int round = 0; round < 400; ++round) {
      std::vector<Place> places(1 + static_cast<size_t>(round) % ShinePlaces::kMost);
      ShinePlaces all;
      for (Place& p : places) add(all, p = somePlace(chance));
      shineAt(by, all);
      for (size_t i = 0; i < places.size(); ++i) {
        const auto [wanted, taken] = alone(by, places[i]);
        const Vec3 is = ShinePlaces::get(all.light, i);
        const float slack = 2e-3f * (0.05f + wanted.maxCoeff());
        QVERIFY2((is - wanted).cwiseAbs().maxCoeff() < slack,
                 qPrintable(QString("%1: %2, not %3").arg(round).arg(is.x()).arg(wanted.x())));
        QVERIFY((ShinePlaces::get(all.taken, i) - taken).cwiseAbs().maxCoeff() < 1e-4f);
        brightest = std::max(brightest, is.maxCoeff());
        dark += is.maxCoeff() == 0;
      }
    }
    // highlights and backs are among them
    QVERIFY(brightest > 2 && dark > 20);
  }
  void noneAreNothing() {
    ShinePlaces none;
    shineAt(litBy(Light{}), none);
    QCOMPARE(none.count, size_t{0});
    QCOMPARE(ShinePlaces::get(none.light, 0), Vec3(Vec3::Zero()));
  }
};

JUVENOR_TEST(TestShinePlaces)

}  // namespace juvenor

#include "test_shine_places.moc"
