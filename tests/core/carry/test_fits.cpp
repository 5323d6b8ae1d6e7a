// Motions and bends against closed forms.
#include <QtTest/QtTest>

#include <random>

#include "core/carry/align.h"
#include "core/carry/fit_by_pins.h"
#include "core/carry/fit_rigid.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Eigen::Matrix3f turnAround(const Vec3& axis, float degrees) {
  return Eigen::AngleAxisf(degrees / 57.29578f, axis.normalized()).toRotationMatrix();
}

std::vector<Vec3> randomPlaces(int count, float size) {
  std::mt19937 random(7);
  std::uniform_real_distribution<float> at(-size, size);
  std::vector<Vec3> out;
  for (int i = 0; i < count; ++i) out.emplace_back(at(random), at(random), at(random));
  return out;
}

// A head-like lump that looks different from every side.
Sculpt lump(int rings, float size) {
  Sculpt out = test::sphere(rings, size);
  for (Vec3& p : out.vertices) {
    p.y() *= 1.3f;
    p.z() += 0.35f * size * std::exp(-((p - Vec3(0, -0.2f, 1) * size).squaredNorm()) / (0.2f * size * size));
    p.x() *= 1 + 0.2f * p.y() / size;
    p.x() += 0.3f * size * std::exp(-((p - Vec3(1, 0.4f, 0) * size).squaredNorm()) / (0.1f * size * size));
  }
  return out;
}

RaysPointer raysOf(std::shared_ptr<const Surface> surface) {
  return *buildRays(std::move(surface), Rays::Quality::Full);
}

}  // namespace

class TestFits : public QObject {
  Q_OBJECT
 private slots:
  // Umeyama 1991: a motion that is known comes back from its pairs
  void pairsTellTheirMotion() {
    const auto from = randomPlaces(12, 100);
    for (const bool reflected : {false, true}) {
      Similarity made{2.5f, turnAround({1, 2, -0.5f}, 73), {30, -4, 11}};
      if (reflected) made.turn.col(0) *= -1;
      std::vector<Vec3> to;
      for (const Vec3& p : from) to.push_back(made(p));
      const auto fit = fitPairs(from, to, true, reflected);
      QVERIFY(fit);
      QVERIFY(std::abs(fit->scale - 2.5f) < 1e-4f);
      QVERIFY(fit->turn.isApprox(made.turn, 1e-4f));
      QVERIFY((fit->shift - made.shift).norm() < 1e-2f);
      for (const Vec3& p : from) QVERIFY((fit->inverse()(made(p)) - p).norm() < 1e-2f);
    }
  }
  void placesOnOneLineSayNothing() {
    std::vector<Vec3> line{{0, 0, 0}, {1, 1, 0}, {2, 2, 0}, {5, 5, 0}};
    QVERIFY(!fitPairs(line, line, true));
    QVERIFY(!fitPairs(std::span(line).first(2), std::span(line).first(2), false));
    std::vector<CarryPin> pins;
    for (const Vec3& p : line) pins.push_back({"", p, p});
    const auto bend = bendBetween(pins);
    QVERIFY(!bend);
    QVERIFY(bend.error().what.find("line") != std::string::npos);
  }
  // iterative closest points: a lump put elsewhere comes back to where it was
  void aMovedSkinIsFound() {
    const auto surface = test::surfaceOf(lump(60, 50));
    const RaysPointer rays = raysOf(surface);
    const Similarity moved{1, turnAround({0.3f, 1, 0.2f}, 14), {6, -3, 2}};
    FitPoints points = fitPointsOf(*surface, 2000);
    const std::vector<Vec3> were = points.positions;
    for (Vec3& p : points.positions) p = moved(p);
    for (Vec3& n : points.normals) n = moved.turn * n;
    const RigidFit fit = fitOnto(points, *rays, {}, {60});
    QVERIFY2(fit.rest < 0.02f, qPrintable(QString::number(fit.rest)));
    float worst = 0;
    for (size_t i = 0; i < were.size(); ++i)
      worst = std::max(worst, (fit.motion(points.positions[i]) - were[i]).norm());
    QVERIFY2(worst < 0.3f, qPrintable(QString::number(worst)));
  }
  // thin plates do what is affine exactly, everywhere; go through every pin; and come back
  void bendsAreExactWhereTheyMustBe() {
    Eigen::Matrix3f squeeze = turnAround({1, 0, 1}, 20);
    squeeze.col(1) *= 1.4f;
    squeeze(0, 2) += 0.2f;
    const auto affine = [&](const Vec3& p) { return Vec3(squeeze * p + Vec3(5, 0, -9)); };
    std::vector<CarryPin> pins;
    for (const Vec3& p : randomPlaces(9, 80)) pins.push_back({"", affine(p), p});
    const auto bend = bendBetween(pins);
    QVERIFY(bend);
    for (const Vec3& p : randomPlaces(40, 120)) {
      QVERIFY2((bend->toOld(p) - affine(p)).norm() < 0.02f,
               qPrintable(QString::number((bend->toOld(p) - affine(p)).norm())));
      QVERIFY((bend->toNew(affine(p)) - p).norm() < 0.05f);
    }
    std::mt19937 random(3);
    std::uniform_real_distribution<float> off(-6, 6);
    for (CarryPin& pin : pins) pin.old += Vec3(off(random), off(random), off(random));
    const auto bent = bendBetween(pins);
    QVERIFY(bent);
    for (const CarryPin& pin : pins) {
      QVERIFY((bent->toOld(pin.fresh) - pin.old).norm() < 0.02f);
      QVERIFY((bent->toNew(pin.old) - pin.fresh).norm() < 0.1f);
    }
    // the way skin looks is across what lies in it
    const Vec3 p(10, 20, 5), n = Vec3(1, 2, 3).normalized(), in = n.unitOrthogonal();
    const Vec3 there = (bent->toOld(p + 0.05f * in) - bent->toOld(p - 0.05f * in)).normalized();
    QVERIFY(std::abs(bent->normalToOld(p, n).dot(there)) < 0.01f);
    QVERIFY(bent->normalToOld(p, n).dot(n) > 0);
  }
  void pinsInOnePlaneLeaveWhatLiesAcross() {
    std::vector<CarryPin> pins;
    for (const Vec3& p : {Vec3(0, 0, 0), Vec3(10, 0, 0), Vec3(0, 10, 0), Vec3(10, 10, 0), Vec3(5, 3, 0)})
      pins.push_back({"", p + Vec3(1, 2, 3), p});
    const auto bend = bendBetween(pins);
    QVERIFY(bend);
    QVERIFY((bend->toOld({3, 4, 25}) - Vec3(4, 6, 28)).norm() < 0.01f);
  }
  // another unit, other axes, and elsewhere
  void aSculptThatStandsOtherwiseIsFound() {
    const Document old = test::documentOf(lump(60, 50));
    const RaysPointer rays = *old.maps->rays();
    const auto lies = aligned(old, *rays, test::surfaceOf(lump(44, 50)));
    QVERIFY(lies);
    QVERIFY(lies->lay);
    QVERIFY(lies->motion.isIdentity());

    const Sculpt as = lump(44, 50);
    Sculpt other = as;
    for (Vec3& p : other.vertices) p = 0.001f * Vec3(p.x(), -p.z(), p.y()) + Vec3(2, 0.1f, -0.4f);
    const auto found = aligned(old, *rays, test::surfaceOf(other));
    QVERIFY2(found, found ? "" : found.error().what.c_str());
    QVERIFY(!found->lay);
    QCOMPARE(found->motion.scale, 1000.f);
    QCOMPARE(found->placement.up, Axis::PlusZ);
    QCOMPARE(found->placement.front, Axis::MinusY);
    QVERIFY(std::abs(found->placement.millimetres - 1000 * old.placement.millimetres) < 0.1f);
    const Eigen::Matrix3f stands = turnOf(found->placement);
    float worst = 0;
    for (size_t v = 0; v < other.vertices.size(); ++v)
      worst = std::max(worst, (found->motion(stands * other.vertices[v]) - as.vertices[v]).norm());
    QVERIFY2(worst < 0.5f, qPrintable(QString::number(worst)));
  }
  void anotherShapeIsRefused() {
    const Document old = test::documentOf(lump(40, 50));
    const auto found = aligned(old, **old.maps->rays(), test::surfaceOf(test::plane(40, 3000)));
    QVERIFY(!found);
    QVERIFY(found.error().what.find('%') != std::string::npos);
  }
};

JUVENOR_TEST(TestFits)

}  // namespace juvenor

#include "test_fits.moc"
