// From light to bytes and back.
#include "core/render/tone.h"

#include <cmath>

#include "core/color/srgb.h"
#include "core/render/edge_average.h"
#include "support/run_all.h"

namespace juvenor {

class TestTone : public QObject {
  Q_OBJECT
 private slots:
  void bytesComeBackAsTheyWere() {
    for (uint32_t v = 0; v < 256; ++v)
      for (const Toning toning : {Toning::Plain, Toning::Light})
        for (int x = 0; x < 40; ++x) {
          const uint32_t grey = 0xff000000u | v << 16 | v << 8 | v;
          QCOMPARE(toned(untoned(grey, toning), toning, x, 3 * x), grey);
        }
    for (const uint32_t color : {0xff8040c0u, 0xff010203u, 0xffc08010u})
      QCOMPARE(toned(untoned(color, Toning::Plain), Toning::Plain, 5, 6), color);
  }
  // Between two bytes as many pixels are lighter as the light lies above the darker one.
  void aSmoothRampIsDithered() {
    for (float between = 0.1f; between < 0.95f; between += 0.1f) {
      const float light = decodeSrgb((100 + between) / 255);
      double sum = 0;
      for (int y = 0; y < 64; ++y)
        for (int x = 0; x < 64; ++x) {
          const uint32_t byte = toned(Vec3::Constant(light), Toning::Light, x, y) & 0xff;
          QVERIFY(byte == 100 || byte == 101);
          sum += byte;
        }
      QVERIFY2(std::abs(sum / (64 * 64) - 100 - static_cast<double>(between)) < 0.03,
               qPrintable(QString("%1 %2").arg(static_cast<double>(between)).arg(sum / (64 * 64))));
    }
  }
  void brightLightIsNeverCut() {
    int before = -1;
    for (float light = 0; light < 3; light += 0.01f) {
      const int byte = static_cast<int>(toned(Vec3::Constant(light), Toning::Light, 0, 0) & 0xff);
      QVERIFY(byte >= before);
      before = byte;
    }
    // twice as bright as white is still told from three times, and its hue is kept
    const auto channel = [](const Vec3& light, int shift) {
      return static_cast<int>(toned(light, Toning::Light, 0, 0) >> shift & 0xff);
    };
    QVERIFY(channel({1.2f, 0.6f, 0.3f}, 16) < channel({1.5f, 0.75f, 0.375f}, 16));
    QVERIFY(channel({1.5f, 0.75f, 0.375f}, 16) > channel({1.5f, 0.75f, 0.375f}, 8) + 40);
  }
  // A highlight over half a pixel is as bright as half its light, however bright: what is averaged is light.
  void edgesAreAveragedAsLight() {
    EdgeAverage edges;
    std::vector<uint32_t> mean(1);
    const ViewSize one{1, 1};
    edges.add(std::vector<Vec3>{Vec3::Constant(0)}, one, Toning::Light, mean);
    edges.add(std::vector<Vec3>{Vec3::Constant(1)}, one, Toning::Light, mean);
    QCOMPARE(edges.pass(), 2);
    QCOMPARE(mean[0], toned(Vec3::Constant(0.5f), Toning::Light, 0, 0));
    edges.add(std::vector<Vec3>{Vec3::Constant(20)}, one, Toning::Light, mean);
    QCOMPARE(mean[0], toned(Vec3::Constant(7), Toning::Light, 0, 0));
    edges.begin();
    edges.add(std::vector<Vec3>{Vec3::Constant(0.25f)}, one, Toning::Light, mean);
    QCOMPARE(mean[0], toned(Vec3::Constant(0.25f), Toning::Light, 0, 0));
  }
  // What changed goes through it alone once all is smooth; before, all of it begins again.
  void aPartThatChangedIsSmoothedAlone() {
    const ViewSize size{4, 1};
    const std::vector<Vec3> grey(4, Vec3::Constant(0.2f)), light(4, Vec3::Constant(0.6f));
    std::vector<uint32_t> mean(4);
    EdgeAverage edges;
    QVERIFY(!edges.smooth());
    edges.begin();
    edges.add(grey, size, Toning::Plain, mean);
    edges.begin({1, 0, 2, 1});
    QVERIFY(edges.pass() == 0 && edges.wanted(size) == (PixelRect{0, 0, 4, 1}));
    for (int i = 0; i < kSettledEdgeRays; ++i) edges.add(grey, size, Toning::Plain, mean);
    QVERIFY(edges.smooth());
    edges.begin({1, 0, 2, 1});
    QVERIFY(!edges.smooth() && edges.wanted(size) == (PixelRect{1, 0, 2, 1}));
    edges.add(light, size, Toning::Plain, mean);
    // and one more beside it while that is under way
    edges.begin({2, 0, 3, 1});
    QVERIFY(edges.pass() == 0 && edges.wanted(size) == (PixelRect{1, 0, 3, 1}));
    for (int i = 0; i < kSettledEdgeRays; ++i) edges.add(light, size, Toning::Plain, mean);
    const uint32_t dark = toned(grey[0], Toning::Plain, 0, 0), bright = toned(light[0], Toning::Plain, 0, 0);
    QCOMPARE(mean, (std::vector<uint32_t>{dark, bright, bright, dark}));
    QVERIFY(edges.smooth());
  }
};

JUVENOR_TEST(TestTone)
}  // namespace juvenor
#include "test_tone.moc"
