// Balls found again from the places on them: whole, in part, with a cornea, far from the origin, rough.
#include "core/seeded.h"
#include "core/surface/fitted_sphere.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// On a ball, as far from its front as `open` says (cosine).
std::vector<Vec3> placesOn(const Vec3& center, float radius, float open, float rough, uint32_t seed) {
  Draws draws(seed);
  std::vector<Vec3> out;
  while (out.size() < 2000) {
    const Vec3 way(draws.around(), draws.around(), draws.around());
    if (way.norm() > 1 || way.norm() < 0.1f || way.normalized().z() < open) continue;
    out.push_back(center + (radius + rough * draws.around()) * way.normalized());
  }
  return out;
}

}  // namespace

class TestFittedSphere : public QObject {
  Q_OBJECT
 private slots:
  void ballsAreFoundAgain_data() {
    QTest::addColumn<float>("open");
    QTest::addColumn<float>("rough");
    QTest::addColumn<float>("shift");
    QTest::addColumn<float>("within");
    QTest::newRow("whole") << -1.f << 0.f << 0.f << 1e-5f;
    QTest::newRow("far off") << -1.f << 0.f << 1000.f << 1e-4f;
    QTest::newRow("front half") << 0.f << 0.f << 3.f << 1e-4f;
    QTest::newRow("what lids leave") << 0.75f << 0.f << 3.f << 1e-3f;
    QTest::newRow("rough") << 0.f << 0.3f << 3.f << 0.01f;
  }
  void ballsAreFoundAgain() {
    QFETCH(float, open);
    QFETCH(float, rough);
    QFETCH(float, shift);
    QFETCH(float, within);
    const Vec3 center(shift, 2 * shift, -shift);
    const auto fit = fittedSphere(placesOn(center, 12, open, rough, 4));
    QVERIFY(fit);
    QVERIFY2((fit->center - center).norm() < 12 * within && std::abs(fit->radius - 12) < 12 * within,
             qPrintable(QString("%1 %2")
                            .arg(static_cast<double>((fit->center - center).norm()))
                            .arg(static_cast<double>(fit->radius))));
    QVERIFY(fit->off <= rough + 1e-3f);
  }
  // A cornea stands out in front, over a fifth of what is seen.
  void aCorneaDoesNotBendIt() {
    auto places = placesOn({1, 2, 3}, 12, -0.2f, 0.02f, 5);
    for (Vec3& p : places)
      if (const Vec3 way = (p - Vec3(1, 2, 3)) / 12; way.z() > 0.88f)
        p += way * 2.5f * (1 - std::pow((1 - way.z()) / 0.12f, 2.f));
    const auto fit = fittedSphere(places);
    QVERIFY(fit);
    QVERIFY2(std::abs(fit->radius - 12) < 0.15f && (fit->center - Vec3(1, 2, 3)).norm() < 0.2f,
             qPrintable(QString::number(static_cast<double>(fit->radius))));
  }
  void whatIsNoBallSaysSo() {
    QVERIFY(!fittedSphere({}));
    QVERIFY(!fittedSphere(std::vector<Vec3>(100, Vec3(1, 1, 1))));
    std::vector<Vec3> flat;
    for (int i = 0; i < 100; ++i)
      flat.emplace_back(static_cast<float>(i % 10), static_cast<float>(i / 10), 0.f);
    QVERIFY(!fittedSphere(flat));
    const auto box = fittedSphere(test::surfaceOf(test::box(12, {4, 4, 12}))->positions);
    QVERIFY(!box || box->off > 0.06f * box->radius);
  }
};

JUVENOR_TEST(TestFittedSphere)
}  // namespace juvenor
#include "test_fitted_sphere.moc"
