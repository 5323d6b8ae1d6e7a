// The skin tone model, palettes and harmony.
#include "core/color/harmony.h"
#include "core/color/palette.h"
#include "core/color/skin_tone.h"
#include "support/run_all.h"

#include <random>
#include <set>

namespace juvenor {

class TestSkinTone : public QObject {
  Q_OBJECT
 private slots:
  // More melanin lowers ITA and L*, more blood raises a*, more yellow raises b*.
  void controlsDoWhatTheySay() {
    for (float b = 0; b <= 1; b += 0.25f)
      for (float y = 0; y <= 1; y += 0.5f)
        for (float m = 0; m < 0.99f; m += 0.1f) {
          const Lab now = labOf({m, b, y}), darker = labOf({m + 0.1f, b, y});
          QVERIFY(darker.l < now.l);
          QVERIFY(typologyAngle(darker) < typologyAngle(now));
        }
    for (float m = 0; m <= 0.6f; m += 0.1f)
      for (float b = 0; b < 0.8f; b += 0.1f) QVERIFY(labOf({m, b + 0.1f, 0}).a > labOf({m, b, 0}).a);
    for (float m = 0; m <= 0.6f; m += 0.2f)
      QVERIFY(labOf({m, 0.4f, 1}).b > labOf({m, 0.4f, 0}).b + (m < 0.5f ? 3 : 1));
  }
  // The field covers ITA from above +60 to below −50, all of it inside sRGB; dark tones stay below b* 25.
  void theFieldCoversHumanSkin() {
    double lightest = -90, darkest = 90, darkB = 0;
    for (float m = 0; m <= 1.001f; m += 0.05f)
      for (float b = 0; b <= 1.001f; b += 0.05f)
        for (float y = 0; y <= 1.001f; y += 0.25f) {
          const SkinTone tone{std::min(m, 1.f), std::min(b, 1.f), std::min(y, 1.f)};
          const LinearColor linear = fromXyz(xyzOfReflectance(skinReflectance(tone)));
          for (const float v : {linear.r, linear.g, linear.b}) QVERIFY(v > 0 && v < 1);
          const Lab lab = labOf(tone);
          lightest = std::max(lightest, typologyAngle(lab));
          darkest = std::min(darkest, typologyAngle(lab));
          if (lab.l < 50) darkB = std::max(darkB, lab.b);
        }
    QVERIFY2(lightest > 60, qPrintable(QString::number(lightest)));
    QVERIFY2(darkest < -50, qPrintable(QString::number(darkest)));
    QVERIFY2(darkB < 25, qPrintable(QString::number(darkB)));
  }
  void aToneIsFoundAgain() {
    std::mt19937 random(5);
    std::uniform_real_distribution<float> unit(0.05f, 0.95f);
    for (int i = 0; i < 12; ++i) {
      const SkinTone tone{0.75f * unit(random), unit(random), unit(random)};
      const NearestTone found = nearestTone(colorOf(tone));
      QVERIFY2(found.difference < 0.25, qPrintable(QString::number(found.difference)));
      QVERIFY(std::abs(found.tone.melanin - tone.melanin) < 0.08f);
      // with no yellow to turn to, it is as near as melanin and blood allow
      const NearestTone without = nearestTone(colorOf(tone), 0.f);
      QCOMPARE(without.tone.yellow, 0.f);
      QVERIFY(without.difference >= found.difference - 0.25);
    }
    // what is no skin at all says how far away it is
    QVERIFY(nearestTone({0.1f, 0.3f, 0.9f}).difference > 20);
  }
  void paletteFindsTheColoursAPictureIsMadeOf() {
    const std::vector<std::string> known{"#1e1a16", "#5d4035", "#3c5b66", "#a34b3d",
                                         "#b9855f", "#deb088", "#f2dcc0"};
    const auto pixelOf = [](const std::string& hex) {
      return 0xff000000u | static_cast<uint32_t>(std::stoul(hex.substr(1), nullptr, 16));
    };
    std::vector<uint32_t> pixels;
    for (size_t i = 0; i < 70'000; ++i) pixels.push_back(pixelOf(known[i * 7919 % 7]));
    pixels.resize(pixels.size() + 500, 0x00ff00ff);  // transparent ones do not count
    const auto palette = paletteOf(pixels, 7);
    QVERIFY(palette);
    QCOMPARE(palette->size(), size_t{7});
    std::set<std::string> found;
    double share = 0, before = -1;
    for (const PaletteColor& c : *palette) {
      found.insert(toHex(c.color));
      share += c.share;
      QVERIFY(toLab(c.color).l > before);
      before = toLab(c.color).l;
    }
    QCOMPARE(found, std::set<std::string>(known.begin(), known.end()));
    QVERIFY(std::abs(share - 1) < 1e-9);
    // fewer colours than wanted are all there is
    QCOMPARE(paletteOf(pixels, 24)->size(), size_t{7});
    QVERIFY(!paletteOf(pixels, 0) && !paletteOf({}, 5));
    const auto cancelled = paletteOf(pixels, 5, [](float) { return false; });
    QVERIFY(!cancelled && isCancelled(cancelled.error()));
  }
  void palettesGoThroughFiles() {
    const NamedPalette palette{"River skin", {{{1, 0.5019608f, 0}, "mud flat"}, {{0, 0, 0.2f}, ""}}};
    const auto back = readGpl(writeGpl(palette), "x.gpl");
    QVERIFY(back);
    QCOMPARE(back->name, palette.name);
    QCOMPARE(back->colors.size(), size_t{2});
    QCOMPARE(back->colors[0].name, palette.colors[0].name);
    QCOMPARE(toHex(back->colors[0].color), toHex(palette.colors[0].color));
    const std::string heading = writeGpl({"x", {}});
    for (const std::string& bad : {std::string("P3 1 1"), heading + "12 300 4 x\n", heading + "red\n"}) {
      const auto read = readGpl(bad, "bad.gpl");
      QVERIFY(!read);
      QVERIFY(read.error().where.find("bad.gpl, line") != std::string::npos);
    }
  }
  void harmonyKeepsLightness() {
    for (const HarmonyHint& h : harmonyOf({0.72f, 0.5f, 0.38f})) {
      QVERIFY(std::abs(toOklch(h.color).l - toOklch(EncodedColor{0.72f, 0.5f, 0.38f}).l) < 0.01f);
    }
    const float hue = toOklch(EncodedColor{0.72f, 0.5f, 0.38f}).h;
    const float away = std::fmod(toOklch(harmonyOf({0.72f, 0.5f, 0.38f})[0].color).h - hue + 720, 360.f);
    QVERIFY(std::abs(away - 180) < 2);
  }
  void fastEncodingIsExactEnough() {
    for (int i = 0; i <= 100'000; ++i) {
      const float linear = static_cast<float>(i) / 100'000;
      QVERIFY(std::abs(int(encodeSrgb16(linear)) - int(to16(encodeSrgb(linear)))) <= 2);
    }
  }
};

JUVENOR_TEST(TestSkinTone)
}  // namespace juvenor
#include "test_skin_tone.moc"
