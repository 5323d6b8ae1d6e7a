// The skin tone model's tables and white against colord's copies of the CIE tables; its classes of skin
// colour against Chardon, Cretois, Hourseau 1991.
#include "core/color/skin_tone.h"
#include "support/colord_table.h"
#include "support/run_all.h"

namespace juvenor {
class TestSkinReference : public QObject {
  Q_OBJECT
  test::ColordTable observer_, daylight_;

 private slots:
  void initTestCase() {
    observer_ = test::colordTable("/usr/share/colord/cmf/CIE1931-2deg-XYZ.cmf");
    daylight_ = test::colordTable("/usr/share/colord/illuminant/CIE-D65.sp");
    QCOMPARE(observer_.rows.size(), size_t{3});
    QCOMPARE(daylight_.rows.size(), size_t{1});
  }
  void tablesAgreeWithColord() {
    for (int b = 0; b < kBandCount; ++b) {
      const double nm = bandNanometres(b);
      const auto i = static_cast<size_t>(b);
      QVERIFY(std::abs(kObserverX[i] - observer_.at(0, nm)) < 1e-5);
      QVERIFY(std::abs(kObserverY[i] - observer_.at(1, nm)) < 1e-5);
      QVERIFY(std::abs(kObserverZ[i] - observer_.at(2, nm)) < 1e-5);
      QVERIFY(std::abs(kDaylight65[i] - daylight_.at(0, nm)) < 1e-5);
    }
  }
  void whiteIsThatOfD65() {
    std::array<double, kBandCount> white;
    white.fill(1);
    const Xyz w = xyzOfReflectance(white);
    const double sum = w.x + w.y + w.z;
    QVERIFY2(std::abs(w.x / sum - 0.3127) < 2e-4, qPrintable(QString::number(w.x / sum)));
    QVERIFY2(std::abs(w.y / sum - 0.3290) < 2e-4, qPrintable(QString::number(w.y / sum)));
    QVERIFY(std::abs(w.y - 1) < 1e-12);
  }
  // The same reflectance integrated with colord's tables at 5 nm over their whole range.
  void tonesAgreeWithColordsTables() {
    for (const SkinTone& tone :
         {SkinTone{0.05f, 0.2f, 0}, SkinTone{0.4f, 0.5f, 0.3f}, SkinTone{0.9f, 0.6f, 1}}) {
      const auto r = skinReflectance(tone);
      double x = 0, y = 0, z = 0, white = 0;
      for (double nm = 360; nm <= 830; nm += 5) {
        const double at = std::clamp((nm - 380) / 10, 0.0, kBandCount - 1.0);
        const auto low = static_cast<size_t>(std::min(at, kBandCount - 2.0));
        const double value = r[low] + (at - static_cast<double>(low)) * (r[low + 1] - r[low]);
        const double power = daylight_.at(0, nm);
        x += power * observer_.at(0, nm) * value;
        y += power * observer_.at(1, nm) * value;
        z += power * observer_.at(2, nm) * value;
        white += power * observer_.at(1, nm);
      }
      const double away = deltaE2000(toLab(Xyz{x / white, y / white, z / white}), labOf(tone));
      QVERIFY2(away < 0.3, qPrintable(QString::number(away)));
    }
  }
  void classesAreThePublishedOnes() {
    const std::pair<double, const char*> cases[] = {
        {56, "very light"}, {54, "light"}, {42, "light"}, {40, "intermediate"}, {29, "intermediate"},
        {27, "tan"},        {11, "tan"},   {9, "brown"},  {-29, "brown"},       {-31, "dark"}};
    for (const auto& [angle, name] : cases) QCOMPARE(typologyClass(angle), std::string_view(name));
  }
};

JUVENOR_TEST(TestSkinReference)
}  // namespace juvenor
#include "test_skin_reference.moc"
