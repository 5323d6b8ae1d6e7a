// Distance along the skin: straight on a plane, great circles on a sphere, unrolled on a cylinder, and never
// across a gap.
#include "core/surface/distance/coarse_distance.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {

class TestDistance : public QObject {
  Q_OBJECT
 private slots:
  void straightOnAPlane() {
    const auto s = test::surfaceOf(test::plane(60, 6));
    const Vec3 from(0.033f, -0.71f, 0);
    const Distances d = distancesFrom(*s, from, kNone, 2);
    QVERIFY(d.samples.size() > 1000);
    QVERIFY(std::ranges::is_sorted(d.samples));
    for (size_t i = 0; i < d.samples.size(); ++i)
      QVERIFY2(std::abs(d.values[i] - (s->positions[d.samples[i]] - from).norm()) <
                   0.006f * d.values[i] + 0.02f * s->spacing,
               qPrintable(QString("%1 %2")
                              .arg(double(d.values[i]))
                              .arg(double((s->positions[d.samples[i]] - from).norm()))));
    // all within the reach are found, and none beyond
    const auto within = static_cast<size_t>(
        std::ranges::count_if(s->positions, [&](const Vec3& p) { return (p - from).norm() <= 1.999f; }));
    QVERIFY(d.samples.size() >= within && *std::ranges::max_element(d.values) <= 2);
  }
  void greatCirclesOnASphere() {
    double before = 1;
    for (const int rings : {24, 48, 96}) {
      const auto s = test::surfaceOf(test::sphere(rings, 2));
      const Vec3 from = Vec3(1, 0.4f, 0.7f).normalized() * 2;
      const Distances d = distancesFrom(*s, from, kNone, 20);
      QCOMPARE(d.samples.size(), s->size());
      double sum = 0;
      for (size_t i = 0; i < d.samples.size(); ++i) {
        const Vec3& p = s->positions[d.samples[i]];
        const double truth =
            2 * std::atan2(static_cast<double>(from.cross(p).norm()), static_cast<double>(from.dot(p)));
        sum += std::abs(static_cast<double>(d.values[i]) - truth);
      }
      const double error = sum / static_cast<double>(s->size()) / (2 * M_PI / 2);
      qInfo("sphere, %zu points: mean error of the distance %.4f of the mean distance", s->size(), error);
      QVERIFY(error < before);
      before = error;
    }
    QVERIFY(before < 0.004);
  }
  void unrolledOnACylinder() {
    const auto s = test::surfaceOf(test::cylinder(96, 1, 8));
    const Distances d = distancesFrom(*s, {1, 0, 0}, kNone, 2.5f);
    // the circle of that reach, unrolled, holds π·2.5² of the cylinder's 2π·8
    const double share = M_PI * 2.5 * 2.5 / (2 * M_PI * 8);
    QVERIFY(std::abs(static_cast<double>(d.samples.size()) / static_cast<double>(s->size()) / share - 1) <
            0.1);
    double worst = 0;
    for (size_t i = 0; i < d.samples.size(); ++i) {
      const Vec3& p = s->positions[d.samples[i]];
      const double truth = std::hypot(std::atan2(static_cast<double>(p.z()), static_cast<double>(p.x())),
                                      static_cast<double>(p.y()));
      worst = std::max(worst, std::abs(static_cast<double>(d.values[i]) - truth));
    }
    QVERIFY2(worst < 0.01, qPrintable(QString::number(worst)));
  }
  // On a coarser skin: as good as on the samples near the place, and nearly so far away.
  void coarseSkinOfASphere() {
    const auto s = test::surfaceOf(test::sphere(160, 2));
    const CoarseSkin coarse =
        coarseSkin(std::make_shared<const SkinLadder>(skinLadder(skinGraph(*s), s->spacing)), 2);
    QVERIFY(coarse.graph().size() < s->size() / 8);
    const std::array places{Vec3(Vec3(1, 0.4f, 0.7f).normalized() * 2)};
    const Distances fine = distancesFrom(*s, places[0], kNone, 4),
                    d = distancesFrom(edgesOf(*s), coarse, test::sourcesOn(*s, places), 4);
    QVERIFY(std::ranges::is_sorted(d.samples));
    QVERIFY(std::abs(static_cast<double>(d.samples.size()) / static_cast<double>(fine.samples.size()) - 1) <
            0.01);
    double sum = 0, worst = 0, step = 0;
    std::vector<float> at(s->size(), -1.f);
    for (size_t i = 0; i < d.samples.size(); ++i) {
      const Vec3& p = s->positions[d.samples[i]];
      const double truth = 2 * std::atan2(static_cast<double>(places[0].cross(p).norm()),
                                          static_cast<double>(places[0].dot(p)));
      const double error = std::abs(static_cast<double>(d.values[i]) - truth);
      sum += error;
      worst = std::max(worst, error);
      at[d.samples[i]] = d.values[i];
      if (truth < static_cast<double>(2 * coarse.cell())) QVERIFY(error < 0.01 * truth + 1e-3);
    }
    // no steps from cell to cell: neighbours differ by no more than the way between them, and a little
    for (const uint32_t i : d.samples)
      for (const uint32_t n : s->neighborsOf(i))
        if (at[n] >= 0)
          step = std::max(step, static_cast<double>(std::abs(at[n] - at[i]) -
                                                    (s->positions[n] - s->positions[i]).norm()));
    const double mean = sum / static_cast<double>(d.samples.size());
    qInfo("coarse skin, cells of %.3f: mean error %.4f, worst %.4f, largest step %.4f", double(coarse.cell()),
          mean, worst, step);
    QVERIFY(mean < 0.01 * 2);
    QVERIFY(worst < 0.06);
    QVERIFY(step < 0.2 * static_cast<double>(coarse.cell()));
  }
  void coarseSkinNeverCrossesTheAir() {
    Sculpt upper = test::plane(80, 20), lower = test::plane(80, 20);
    for (Vec3& v : lower.vertices) v.z() -= 0.1f;
    const auto s = test::surfaceOf(test::together(upper, lower));
    const CoarseSkin coarse =
        coarseSkin(std::make_shared<const SkinLadder>(skinLadder(skinGraph(*s), s->spacing)), 2);
    const std::array places{Vec3(-2, 0, 0), Vec3(3, 1, 0)};
    const Distances d = distancesFrom(edgesOf(*s), coarse, test::sourcesOn(*s, places), 9);
    QVERIFY(d.samples.size() > 2000);
    for (size_t i = 0; i < d.samples.size(); ++i) {
      QCOMPARE(s->parts[d.samples[i]], 0u);
      const Vec3& p = s->positions[d.samples[i]];
      const float truth = std::min((p - places[0]).norm(), (p - places[1]).norm());
      QVERIFY(std::abs(d.values[i] - truth) < 0.02f * truth + 0.1f * coarse.cell());
    }
  }
  void neverThroughTheAir() {
    Sculpt upper = test::plane(40, 20), lower = test::plane(40, 20);
    for (Vec3& v : lower.vertices) v.z() -= 0.1f;
    const auto s = test::surfaceOf(test::together(upper, lower));
    const Distances d = distancesFrom(*s, {0, 0, 0}, 0, 5);
    for (const uint32_t i : d.samples) QCOMPARE(s->parts[i], 0u);
    QVERIFY(d.samples.size() > 200);
    QVERIFY(distancesFrom(*s, {0, 0, 50}, kNone, 5).samples.empty());
  }
  void fromManySources() {
    const auto s = test::surfaceOf(test::plane(60, 6));
    std::vector<DistanceSeed> left;
    for (uint32_t i = 0; i < s->size(); ++i)
      if (s->positions[i].x() < -1) left.push_back({i, 0});
    const Distances d = distancesFrom(edgesOf(*s), left, 1.5f);
    float edge = -3;
    const auto within = static_cast<size_t>(
        std::ranges::count_if(s->positions, [](const Vec3& p) { return p.x() < -1 + 1.4f; }));
    QVERIFY(d.samples.size() >= within && d.samples.size() < s->size());
    for (const DistanceSeed& i : left) edge = std::max(edge, s->positions[i.sample].x());
    for (size_t i = 0; i < d.samples.size(); ++i)
      QVERIFY(std::abs(d.values[i] - std::max(0.f, s->positions[d.samples[i]].x() - edge)) < 0.06f);
  }
};

JUVENOR_TEST(TestDistance)
}  // namespace juvenor
#include "test_distance.moc"
