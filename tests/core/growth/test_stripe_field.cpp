// Stripes over the skin: their distance on a cylinder and on a cone in closed form, around a ring where a
// whole number must fit, over gaps and at any density.
#include <cmath>
#include <map>

#include "core/growth/stripe_field.h"
#include "core/surface/build/search.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

template <class DirectionAt>
StripeField stripesOn(const std::shared_ptr<const Surface>& surface, float period, DirectionAt directionAt) {
  const auto ladder = std::make_shared<const SkinLadder>(skinLadder(skinGraph(*surface), surface->spacing));
  std::vector<Vec3> directions;
  for (uint32_t s = 0; s < surface->size(); ++s) {
    const Vec3 &n = surface->normals[s], wished = directionAt(surface->positions[s]);
    directions.push_back(normalizedOr(wished - wished.dot(n) * n, n.unitOrthogonal()));
  }
  return *stripeField(*surface, ladder, directions, std::vector<float>(surface->size(), period), period);
}

// A cylinder that narrows upward: all its meridians are straight, as on a cone.
Sculpt cone(int cells, float radius, float height, float top) {
  Sculpt out = test::cylinder(cells, radius, height);
  for (Vec3& v : out.vertices) {
    const float t = v.y() / height + 0.5f;
    v.x() *= 1 + t * (top - 1);
    v.z() *= 1 + t * (top - 1);
  }
  return out;
}

// From one to the next the phase differs by so much, −0.5…0.5 of a turn.
float turned(const StripeField& field, uint32_t a, uint32_t b) {
  return static_cast<float>(static_cast<int16_t>(static_cast<uint16_t>(field.phases[b] - field.phases[a]))) /
         65536.f;
}

// The mean and the worst difference between how the phase runs over edges and how it should, in turns.
std::pair<float, float> misses(const Surface& surface, const StripeField& field, float period,
                               const std::function<float(const Vec3&, const Vec3&)>& along) {
  double sum = 0, count = 0;
  float worst = 0;
  for (uint32_t a = 0; a < surface.size(); ++a)
    for (const uint32_t b : surface.neighborsOf(a)) {
      const float expected = along(surface.positions[a], surface.positions[b]) / period;
      const float miss = std::abs(turned(field, a, b) - expected);
      sum += static_cast<double>(miss);
      worst = std::max(worst, miss);
      count += 1;
    }
  return {static_cast<float>(sum / count), worst};
}

}  // namespace

class TestStripeField : public QObject {
  Q_OBJECT
 private slots:
  void distanceIsThePeriod_data() {
    QTest::addColumn<float>("top");
    QTest::newRow("cylinder") << 1.f;
    QTest::newRow("cone") << 0.25f;
  }

  // Along the straight lines of a cylinder and of a cone the phase gains one turn a period, exactly; so rings
  // lie one period apart along the skin.
  void distanceIsThePeriod() {
    QFETCH(float, top);
    constexpr float kPeriod = 2.3f, kRadius = 8, kHeight = 30;
    const auto surface = test::surfaceOf(cone(120, kRadius, kHeight, top));
    const StripeField field = stripesOn(surface, kPeriod, [&](const Vec3& p) {
      const Vec3 out = Vec3(p.x(), 0, p.z()).normalized();
      return Vec3(Vec3::UnitY() * kHeight - out * kRadius * (1 - top));
    });
    const float slant = std::hypot(kHeight, kRadius * (1 - top)) / kHeight;
    const auto [mean, worst] = misses(*surface, field, kPeriod,
                                      [&](const Vec3& a, const Vec3& b) { return (b.y() - a.y()) * slant; });
    QVERIFY2(mean < 0.004f, qPrintable(QString::number(static_cast<double>(mean))));
    QVERIFY2(worst < 0.03f, qPrintable(QString::number(static_cast<double>(worst))));
  }

  // Around a cylinder only a whole number of stripes fits: the nearest one to what was asked for.
  void aWholeNumberFitsAround() {
    const float radius = 10, period = 3.1f;
    const auto surface = test::surfaceOf(test::cylinder(160, radius, 20));
    const StripeField field =
        stripesOn(surface, period, [](const Vec3& p) { return Vec3(p.z(), 0, -p.x()); });
    // the samples of one ring by their angle
    std::map<float, uint32_t> ring;
    const float height = surface->positions[*nearestSample(*surface, {0, 0, radius}, 5)].y();
    for (uint32_t s = 0; s < surface->size(); ++s)
      if (std::abs(surface->positions[s].y() - height) < 1e-4f)
        ring[std::atan2(surface->positions[s].x(), surface->positions[s].z())] = s;
    float turns = turned(field, ring.rbegin()->second, ring.begin()->second);
    for (auto at = ring.begin(); std::next(at) != ring.end(); ++at)
      turns += turned(field, at->second, std::next(at)->second);
    const float asked = 2 * 3.14159265f * radius / period;
    QVERIFY2(std::abs(turns - std::round(turns)) < 0.01f && std::abs(turns - asked) < 1,
             qPrintable(QString::number(static_cast<double>(turns))));
  }

  // A flat sheet under directions that fan out from a point: straight stripes cannot stay even, rings around
  // the point can.
  void ringsAroundAPointAreEven() {
    const auto surface = test::surfaceOf(test::plane(160, 40));
    const StripeField field = stripesOn(surface, 3, [](const Vec3& p) { return Vec3(p.x(), p.y() + 30, 0); });
    const auto [mean, worst] = misses(*surface, field, 3, [](const Vec3& a, const Vec3& b) {
      const Vec3 middle(0, -30, 0);
      return (b - middle).norm() - (a - middle).norm();
    });
    QVERIFY2(mean < 0.01f, qPrintable(QString::number(static_cast<double>(mean))));
  }

  void neverCrossesAGap() {
    Sculpt upper = test::plane(100, 20, "Upper");
    for (Vec3& v : upper.vertices) v.z() += 0.02f;
    const Sculpt both = test::together(test::plane(100, 20), upper);
    const auto surface = test::surfaceOf(both);
    const StripeField field =
        stripesOn(surface, 2, [&](const Vec3& p) { return p.z() > 0.01f ? Vec3::UnitX() : Vec3::UnitY(); });
    for (uint32_t a = 0; a < surface->size(); ++a)
      for (const uint32_t b : surface->neighborsOf(a)) {
        const Vec3 step = surface->positions[b] - surface->positions[a];
        const float expected = (surface->parts[a] == 1 ? step.x() : step.y()) / 2;
        QVERIFY(std::abs(turned(field, a, b) - expected) < 0.03f);
      }
  }

  // The same stripes on a coarse and a fine sphere, up to how far they are shifted.
  void looksAlikeAtAnyDensity() {
    const auto coarse = test::surfaceOf(test::sphere(120, 10)), fine = test::surfaceOf(test::sphere(240, 10));
    const auto down = [](const Vec3&) { return Vec3(0, -1, 0); };
    const StripeField a = stripesOn(coarse, 2, down), b = stripesOn(fine, 2, down);
    std::complex<double> sum = 0;
    double count = 0;
    for (uint32_t s = 0; s < coarse->size(); ++s) {
      const uint32_t t = *nearestSample(*fine, coarse->positions[s], 1);
      const double turn = static_cast<double>(static_cast<uint16_t>(a.phases[s] - b.phases[t])) / 65536;
      sum += std::polar(1.0, 2 * 3.14159265 * turn);
      count += 1;
    }
    QVERIFY2(std::abs(sum) / count > 0.9, qPrintable(QString::number(std::abs(sum) / count)));
  }

  void canBeCancelled() {
    const auto surface = test::surfaceOf(test::sphere(32, 10));
    const auto ladder = std::make_shared<const SkinLadder>(skinLadder(skinGraph(*surface), surface->spacing));
    const std::vector<Vec3> directions(surface->size(), Vec3::UnitX());
    const auto out = stripeField(*surface, ladder, directions, std::vector<float>(surface->size(), 2.f), 2,
                                 [](float) { return false; });
    QVERIFY(!out && isCancelled(out.error()));
  }
};

JUVENOR_TEST(TestStripeField)
}  // namespace juvenor
#include "test_stripe_field.moc"
