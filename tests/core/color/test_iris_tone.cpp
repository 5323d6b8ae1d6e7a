// What melanin makes of an iris: blue without, brown with much, darker all the way.
#include "core/color/iris_tone.h"
#include "core/color/oklab.h"
#include "support/run_all.h"

namespace juvenor {

class TestIrisTone : public QObject {
  Q_OBJECT
 private slots:
  // Hues of eyes as everyone knows them (common practice): blue, then green to hazel, then brown.
  void melaninGoesFromBlueToBrown() {
    const Lab blue = toLab(irisColor(0)), brown = toLab(irisColor(0.8f));
    QVERIFY2(blue.b < -5 && blue.a < 4, qPrintable(QString("%1 %2").arg(blue.a).arg(blue.b)));
    QVERIFY2(brown.b > 8 && brown.a > 5, qPrintable(QString("%1 %2").arg(brown.a).arg(brown.b)));
    bool green = false;
    for (float m = 0; m < 0.6f; m += 0.02f) {
      const Lab lab = toLab(irisColor(m));
      green |= lab.b > 2 && lab.a < 2;
    }
    QVERIFY(green);
  }
  void moreMelaninIsDarker() {
    double before = 1e9;
    for (int i = 0; i <= 20; ++i) {
      const double l = toLab(irisColor(static_cast<float>(i) / 20)).l;
      QVERIFY2(l < before, qPrintable(QString::number(i)));
      before = l;
    }
    QVERIFY(before > 3 && before < 25);
  }
  // Beer and Lambert: what a film lets through shorter waves less, at every amount.
  void melaninTakesShortWavesFirst() {
    const auto bare = irisReflectance(0), some = irisReflectance(0.35f);
    double last = 0;
    for (size_t band = 2; band < 30; ++band) {
      QVERIFY(some[band] > 0 && some[band] < 1 && some[band] < bare[band]);
      const double left = some[band] / bare[band];
      QVERIFY(left > last);
      last = left;
    }
    QVERIFY(irisReflectance(-1) == bare);
    QVERIFY(irisReflectance(2) == irisReflectance(1));
  }
};

JUVENOR_TEST(TestIrisTone)
}  // namespace juvenor
#include "test_iris_tone.moc"
