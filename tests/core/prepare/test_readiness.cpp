// Whether a sculpt can carry paint, told by numbers that are known: of spheres and boxes, and of points that
// are really added.
#include "core/document/edits/edits.h"
#include "core/prepare/readiness.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Readiness readyOf(const Document& d, size_t set = 0) {
  return *readinessOf(d, set);
}

// Every polygon's corners at the same places as the vertices, seen from the front.
UvSet fromFront(const Sculpt& sculpt, float scale) {
  UvSet out{"Front", {}, sculpt.corners};
  for (const Vec3& v : sculpt.vertices)
    out.coordinates.emplace_back(0.5f + scale * v.x(), 0.5f + scale * v.y());
  return out;
}

}  // namespace

class TestReadiness : public QObject {
  Q_OBJECT
 private slots:
  void sizeIsToldInMillimetres() {
    Document d = test::documentOf(test::sphere(40, 0.11f));
    QVERIFY(std::abs(readyOf(d).tall - 0.22f) < 1e-3f);
    QVERIFY(!readyOf(d).likelySize);
    d.placement.millimetres = 1000;
    QVERIFY(std::abs(readyOf(d).tall - 220) < 1);
    QVERIFY(readyOf(d).likelySize);
    d.placement.millimetres = 1e6f;
    QVERIFY(!readyOf(d).likelySize);
  }
  void pointsAddedAreAsManyAsWasTold() {
    const Document d = test::documentOf(test::sphere(60, 50));
    const Readiness before = readyOf(d);
    const float thing = 2 * before.spacing / 3;
    QVERIFY(!before.fineEnough(thing) && before.fineEnough(2 * before.spacing + 1e-3f));
    Refinement finer;
    finer.spacing = spacingFor(thing);
    const auto after = withRefinement(d, finer);
    QVERIFY(after);
    const double told = before.pointsFor(thing), are = static_cast<double>(after->surface->size());
    QVERIFY2(are > 0.6 * told && are < 1.6 * told, qPrintable(QString("%1 of %2").arg(are).arg(told)));
    QCOMPARE(before.pointsFor(100.f), static_cast<double>(before.points));
  }
  void manyPointsCarryMore() {
    QVERIFY(carriedBy(1'000) == Carries::Nothing);
    QVERIFY(carriedBy(60'000) == Carries::Coarse);
    QVERIFY(carriedBy(250'000) == Carries::Broad);
    QVERIFY(carriedBy(2'000'000) == Carries::Fine);
    for (size_t i = 1; i < kFineThings.size(); ++i)
      QVERIFY(kFineThings[i - 1].millimetres < kFineThings[i].millimetres);
  }
  void shellsAreCountedWithinParts() {
    Sculpt two = test::together(test::sphere(10, 5, Vec3(-8, 0, 0)), test::sphere(10, 5, Vec3(8, 0, 0)));
    const Readiness apart = readyOf(test::documentOf(two));
    QCOMPARE(apart.parts, size_t{2});
    QCOMPARE(apart.shells, size_t{2});
    QVERIFY(apart.inParts());
    std::ranges::fill(two.polygonPart, 0u);
    two.parts.resize(1);
    const Readiness one = readyOf(test::documentOf(two));
    QCOMPARE(one.parts, size_t{1});
    QCOMPARE(one.shells, size_t{2});
    QVERIFY(!one.inParts());
    // triangles that share places hang together, whatever their indices
    const Readiness loose = readyOf(test::documentOf(test::soup(test::sphere(10, 5))));
    QCOMPARE(loose.shells, size_t{1});
  }
  void squaresAreWellWhereNothingLiesOnAnything() {
    const Sculpt bare = test::plane(20, 10);
    QVERIFY(!readyOf(test::documentOf(bare)).layout);
    const auto flat = withUvs(test::documentOf(bare), fromFront(bare, 0.09f));
    QVERIFY(flat);
    const Readiness well = readyOf(*flat);
    QVERIFY(well.laidOut());
    // 0.9 of a tile for 10 units
    QVERIFY(std::abs(well.layout->middle - 0.09f) < 1e-3f);
    const Sculpt ball = test::sphere(20, 5);
    const Readiness doubled = readyOf(*withUvs(test::documentOf(ball), fromFront(ball, 0.09f)));
    QVERIFY2(doubled.doubled > 0.9f, qPrintable(QString::number(doubled.doubled)));
    QVERIFY(!doubled.laidOut());
    const Readiness large = readyOf(*withUvs(test::documentOf(bare), fromFront(bare, 3)));
    QVERIFY(!large.laidOut());
  }
  void thePlaneIsOursOnceItIsTaken() {
    Sculpt aside = test::box(12, Vec3(20, 30, 10));
    for (Vec3& v : aside.vertices) v.x() += 3;
    const Document d = test::documentOf(aside);
    const Readiness before = readyOf(d);
    QVERIFY(before.mirrors);
    QVERIFY2(std::abs(before.plane.plane.offset - 3) < 0.1f,
             qPrintable(QString::number(before.plane.plane.offset)));
    QVERIFY(!before.planeIsOurs && !before.mirrorReady());
    const Readiness after = readyOf(*withMirrorPlane(d, before.plane.plane));
    QVERIFY(after.planeIsOurs && after.mirrorReady());
  }
  void whatIsCancelledGivesNothing() {
    const Document d = test::documentOf(test::sphere(20, 5));
    const auto stopped = readinessOf(d, 0, [](float) { return false; });
    QVERIFY(!stopped && isCancelled(stopped.error()));
  }
};

JUVENOR_TEST(TestReadiness)

}  // namespace juvenor

#include "test_readiness.moc"
