// The skin tone model's tables and white against colord's copies of the CIE tables; its classes of skin
// colour against Chardon, Cretois, Hourseau 1991; tints against the model they stand for.
#include "core/color/skin_tint.h"
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
  // Blood with and without oxygen takes as much light at its isosbestic points (422, 452, 500, 530, 545, 570
  // and 584 nm: Zijlstra, Buursma, van Assendelft 2000, from memory), and nowhere else between 400 and 600;
  // bands lie 10 nm apart. Peaks: with oxygen 415, 542 and 577 nm, without 432 and 556.
  void haemoglobinCrossesWhereItIsMeasured() {
    std::vector<double> crossings;
    for (size_t b = 2; b < 22; ++b) {
      const double here = std::log(kOxyHaemoglobin[b] / kDeoxyHaemoglobin[b]),
                   next = std::log(kOxyHaemoglobin[b + 1] / kDeoxyHaemoglobin[b + 1]);
      if ((here > 0) != (next > 0))
        crossings.push_back(bandNanometres(static_cast<int>(b)) + 10 * here / (here - next));
    }
    const double published[] = {422, 452, 500, 530, 545, 570, 584};
    QCOMPARE(crossings.size(), std::size(published));
    for (size_t i = 0; i < crossings.size(); ++i)
      QVERIFY2(std::abs(crossings[i] - published[i]) < 4,
               qPrintable(QString("%1, not %2").arg(crossings[i]).arg(published[i])));
    const auto peaks = [](const std::array<double, kBandCount>& table) {
      std::vector<double> out;
      for (size_t b = 1; b + 1 < 25; ++b)
        if (table[b] > table[b - 1] && table[b] > table[b + 1])
          out.push_back(bandNanometres(static_cast<int>(b)));
      return out;
    };
    QCOMPARE(peaks(kOxyHaemoglobin), (std::vector<double>{420, 540, 580}));
    QCOMPARE(peaks(kDeoxyHaemoglobin), (std::vector<double>{430, 560}));
  }
  // A flush darkens skin most where blood with oxygen has its two bands, with the window between them, and
  // next to nothing in the red; melanin darkens the more the shorter the wave.
  void aFlushIsSeenInTheBandsOfBlood() {
    const auto pale = skinReflectance({0.1f, 0.3f, 0}), flushed = skinReflectance({0.1f, 0.7f, 0}),
               tanned = skinReflectance({0.5f, 0.3f, 0});
    const auto left = [&](const auto& changed, double nm) {
      const auto b = static_cast<size_t>((nm - 380) / 10);
      return changed[b] / pale[b];
    };
    QVERIFY(left(flushed, 540) < left(flushed, 560) && left(flushed, 580) < left(flushed, 560));
    QVERIFY(left(flushed, 540) < left(flushed, 500) && left(flushed, 580) < left(flushed, 610));
    QVERIFY(left(flushed, 420) < left(flushed, 500));
    QVERIFY2(left(flushed, 700) > 0.93 && left(flushed, 540) < 0.72,
             qPrintable(QString("%1 %2").arg(left(flushed, 700)).arg(left(flushed, 540))));
    for (double nm = 480; nm < 720; nm += 20) {
      // (around the bands of blood less light comes from below to be taken)
      if (nm > 500 && nm < 600) continue;
      QVERIFY(left(tanned, nm) < left(tanned, nm + 120 > 720 ? 720 : nm + 120));
    }
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
  // What the table says of a tone of the model with more or less in it, against the model's own spectra.
  // Under the darkest melanin tones can hardly be told by their colours, and lifting it guesses.
  void tintsAreTheModels_data() {
    QTest::addColumn<int>("matter");
    QTest::addColumn<bool>("lift");
    QTest::addColumn<double>("worst");
    QTest::newRow("blood") << 0 << false << 0.4;
    QTest::newRow("blood lifted") << 0 << true << 0.7;
    QTest::newRow("melanin") << 1 << false << 0.6;
    QTest::newRow("melanin lifted") << 1 << true << 0.9;
    QTest::newRow("yellow") << 2 << false << 0.3;
    QTest::newRow("yellow lifted") << 2 << true << 0.3;
  }
  void tintsAreTheModels() {
    QFETCH(int, matter);
    QFETCH(bool, lift);
    QFETCH(double, worst);
    const SkinTint& tint = SkinTint::of(static_cast<SkinMatter>(matter), lift);
    std::mt19937 random(8);
    std::uniform_real_distribution<float> unit(0, 1);
    std::vector<double> off;
    while (off.size() < 3000) {
      const SkinTone tone{unit(random) * 0.7f, unit(random), unit(random)};
      const float amount = unit(random);
      SkinTone moved = tone;
      float& control = matter == 0 ? moved.blood : matter == 1 ? moved.melanin : moved.yellow;
      control += (lift ? -SkinTint::kUnit : SkinTint::kUnit) * amount;
      if (control < 0 || control > (matter == 1 ? 0.8f : 1.f)) continue;
      off.push_back(deltaE2000(toLab(tint(colorOf(tone), amount)), labOf(moved)));
    }
    std::ranges::sort(off);
    const double usual = off[off.size() * 95 / 100];
    QVERIFY2(usual < 0.3 && off.back() < worst,
             qPrintable(QString("95 of 100 within %1, worst %2").arg(usual).arg(off.back())));
  }
  // One flush on five tones, from the palest to a dark one: each turns redder, by what one sees.
  void aFlushIsAFlushOnEveryTone() {
    const SkinTint& blood = SkinTint::of(SkinMatter::Blood, false);
    for (const float melanin : {0.05f, 0.25f, 0.45f, 0.6f, 0.72f}) {
      const EncodedColor bare = colorOf({melanin, 0.35f, 0.15f}), flushed = blood(bare, 0.5f);
      const Lab a = toLab(bare), b = toLab(flushed);
      QVERIFY2(
          b.a > a.a + 1 && b.l < a.l && deltaE2000(a, b) > 1.5,
          qPrintable(QString("melanin %1: a* %2 to %3").arg(static_cast<double>(melanin)).arg(a.a).arg(b.a)));
    }
  }
  void halfATintTwiceIsAWhole() {
    std::mt19937 random(9);
    std::uniform_real_distribution<float> unit(0, 1);
    for (int matter = 0; matter < 3; ++matter)
      for (const bool lift : {false, true}) {
        const SkinTint& tint = SkinTint::of(static_cast<SkinMatter>(matter), lift);
        for (int i = 0; i < 500; ++i) {
          const SkinTone tone{0.1f + 0.5f * unit(random), 0.2f + 0.6f * unit(random), 0.5f * unit(random)};
          // a river creature's slate: far from any skin, though melanin brings it nearer on the way
          const EncodedColor slate{0.2f + 0.1f * unit(random), 0.45f + 0.1f * unit(random),
                                   0.42f + 0.1f * unit(random)};
          for (const auto& [color, most] : {std::pair(colorOf(tone), 0.6), std::pair(slate, 3.5)}) {
            const double off = deltaE2000(toLab(tint(color, 0.8f)), toLab(tint(tint(color, 0.4f), 0.4f)));
            QVERIFY2(off < most,
                     qPrintable(QString("matter %1, lifted %2: %3").arg(matter).arg(lift).arg(off)));
          }
        }
      }
  }
  void noTintChangesNothing() {
    for (int matter = 0; matter < 3; ++matter)
      for (const EncodedColor& c :
           {EncodedColor{0, 0, 0}, EncodedColor{1, 1, 1}, EncodedColor{0.3f, 0.7f, 0.2f}}) {
        const EncodedColor same = SkinTint::of(static_cast<SkinMatter>(matter), true)(c, 0);
        QVERIFY(std::abs(same.r - c.r) + std::abs(same.g - c.g) + std::abs(same.b - c.b) < 1e-6f);
      }
  }
};

JUVENOR_TEST(TestSkinReference)
}  // namespace juvenor
#include "test_skin_reference.moc"
