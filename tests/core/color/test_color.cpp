// Properties of the colour functions that need no reference library; those stand in tests/reference.
#include "core/color/lab.h"
#include "core/color/oklab.h"
#include "support/run_all.h"

namespace juvenor {

class TestColor : public QObject {
  Q_OBJECT
 private slots:
  void everyByteSurvivesDecodingAndEncoding() {
    for (int i = 0; i < 256; ++i) {
      const float encoded = static_cast<float>(i) / 255;
      QCOMPARE(static_cast<int>(encodeSrgb(decodeSrgb(encoded)) * 255 + 0.5f), i);
    }
  }
  void tableAgreesWithTheCurve() {
    for (int i = 0; i < 65536; i += 17)
      QVERIFY(std::abs(decodeSrgb16(static_cast<uint16_t>(i)) - decodeSrgb(static_cast<float>(i) / 65535)) <
              3e-7f);
  }
  void curveContinuesBelowZero() {
    QCOMPARE(encodeSrgb(-0.5f), -encodeSrgb(0.5f));
    QCOMPARE(decodeSrgb(-0.5f), -decodeSrgb(0.5f));
  }
  void sixteenBitsAreClampedAndRounded() {
    QCOMPARE(to16(-1), uint16_t{0});
    QCOMPARE(to16(2), uint16_t{65535});
    QCOMPARE(to16(0.5f), uint16_t{32768});
    QCOMPARE(straight({100, 100, 100, 0}), EncodedColor{});
    QCOMPARE(straight({32768, 0, 16384, 32768}), (EncodedColor{1, 0, 0.5f}));
  }
  void hexIsReadAndWritten_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("hex");
    QTest::newRow("six") << "#A77f5D"
                         << "#a77f5d";
    QTest::newRow("three") << "f0a"
                           << "#ff00aa";
    QTest::newRow("no sign") << "010203"
                             << "#010203";
  }
  void hexIsReadAndWritten() {
    QFETCH(QString, text);
    const auto color = fromHex(text.toStdString());
    QVERIFY(color.has_value());
    QTEST(QString::fromStdString(toHex(*color)), "hex");
  }
  void whatIsNoHexIsRefused() {
    for (const char* text : {"", "#", "#12", "#12345", "#1234567", "zzzzzz", "#12 456"})
      QVERIFY(!fromHex(text));
  }
  void whiteHasNoColour() {
    const Lab white = toLab(EncodedColor{1, 1, 1});
    QVERIFY(std::abs(white.l - 100) < 1e-6);
    QVERIFY(std::abs(white.a) < 1e-6 && std::abs(white.b) < 1e-6);
    const Lab grey = toLab(EncodedColor{0.42f, 0.42f, 0.42f});
    QVERIFY(std::abs(grey.a) < 1e-3 && std::abs(grey.b) < 1e-3);
  }
  void labGoesBackToXyz() {
    for (const EncodedColor c :
         {EncodedColor{0.1f, 0.7f, 0.3f}, EncodedColor{0.9f, 0.2f, 0.1f}, EncodedColor{0.01f, 0, 0.02f}}) {
      const EncodedColor back = encode(fromXyz(fromLab(toLab(c))));
      QVERIFY(std::abs(back.r - c.r) < 1e-5f && std::abs(back.g - c.g) < 1e-5f &&
              std::abs(back.b - c.b) < 1e-5f);
    }
  }
  // Chardon, Cretois, Hourseau 1991: 28° to 41° is intermediate skin; straight up from L* 50 is 90°.
  void typologyAngleFollowsItsDefinition() {
    QVERIFY(std::abs(typologyAngle({60, 12, 15}) - 33.69006753) < 1e-6);
    QVERIFY(std::abs(typologyAngle({40, 12, 10}) + 45) < 1e-6);
  }
  void oklchGoesBack() {
    for (float h = 0; h < 360; h += 23) {
      const Oklch in{0.6f, 0.08f, h};
      const Oklch out = toOklch(toEncoded(in));
      QVERIFY(std::abs(out.l - in.l) < 1e-4f && std::abs(out.c - in.c) < 1e-4f);
      QVERIFY(std::abs(std::remainder(out.h - in.h, 360.f)) < 0.1f);
    }
  }
  void outsideTheGamutOnlyChromaGives() {
    const Oklch wild{0.7f, 0.4f, 145};
    QVERIFY(!insideSrgb(fromOklab(fromOklch(wild))));
    const Oklch kept = toOklch(toEncoded(wild));
    QVERIFY(std::abs(kept.l - wild.l) < 2e-3f);
    QVERIFY(std::abs(kept.h - wild.h) < 0.5f);
    QVERIFY(std::abs(kept.c - largestChroma(0.7f, 145)) < 2e-3f);
  }
};

JUVENOR_TEST(TestColor)
}  // namespace juvenor
#include "test_color.moc"
