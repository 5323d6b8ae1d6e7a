// Where the eye goes, by what observers are known to see first: an odd one among others pops out, a texture
// without one has no place that does (Treisman and Gelade 1980; Itti, Koch, Niebur 1998, figures 3 and 4).
#include <random>

#include "core/stepback/where_the_eye_goes.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr ViewSize kSize{480, 320};
constexpr uint32_t kSkin = 0xffb09080, kGreen = 0xff6f9a5c, kRed = 0xffc46a62;

struct Picture {
  std::vector<uint32_t> pixels = std::vector<uint32_t>(480 * 320, kSkin);
  std::vector<uint8_t> sculpt = std::vector<uint8_t>(480 * 320, 1);

  void fill(int left, int top, int width, int height, uint32_t color) {
    for (int y = top; y < top + height; ++y)
      for (int x = left; x < left + width; ++x) pixels[static_cast<size_t>(y * kSize.width + x)] = color;
  }
  EyeMap map() const { return whereTheEyeGoes(pixels, sculpt, kSize); }
};

// Upright bars in rows.
Picture bars(int odd, uint32_t color) {
  Picture p;
  for (int i = 0; i < 40; ++i) p.fill(20 + i % 8 * 57, 18 + i / 8 * 61, 10, 40, i == odd ? color : kGreen);
  return p;
}

}  // namespace

class TestWhereTheEyeGoes : public QObject {
  Q_OBJECT
 private slots:
  void theOddOneIsFirst() {
    for (const int odd : {9, 21, 30}) {
      const EyeMap map = bars(odd, kRed).map();
      QVERIFY(!map.strongest.empty());
      const Vec2 middle(25 + odd % 8 * 57, 38 + odd / 8 * 61);
      const Vec2 apart = map.strongest[0].pixel - middle;
      QVERIFY2(std::abs(apart.x()) < 16 && std::abs(apart.y()) < 32,
               qPrintable(QString("%1: %2 %3").arg(odd).arg(apart.x()).arg(apart.y())));
      if (map.strongest.size() > 1) QVERIFY(map.strongest[1].draw < 0.5f * map.strongest[0].draw);
    }
  }
  void evenTextureHasNoPeak() {
    const EyeMap even = bars(-1, kGreen).map(), odd = bars(21, kRed).map();
    const float most = *std::ranges::max_element(even.draw);
    QVERIFY2(most < 0.25f * odd.strongest.at(0).draw, qPrintable(QString::number(most)));
  }
  // However the outline stands out.
  void backgroundDrawsNothing() {
    Picture p;
    for (int y = 0; y < kSize.height; ++y)
      for (int x = 0; x < kSize.width; ++x)
        if (std::hypot(x - 240, y - 160) > 120) {
          p.pixels[static_cast<size_t>(y * kSize.width + x)] = 0xff000000;
          p.sculpt[static_cast<size_t>(y * kSize.width + x)] = 0;
        }
    QVERIFY(p.map().strongest.empty());
    p.fill(280, 150, 12, 12, 0xff403028);
    const EyeMap map = p.map();
    QCOMPARE(map.strongest.size(), size_t{1});
    QVERIFY((map.strongest[0].pixel - Vec2(286, 156)).norm() < 12);
  }
  // Detail amid smooth skin, of the same mean.
  void fineDetailDraws() {
    Picture p;
    std::mt19937 random(3);
    for (int y = 200; y < 240; ++y)
      for (int x = 330; x < 380; ++x) {
        const uint32_t up = random() % 2 ? 40 : 0;
        p.fill(x, y, 1, 1, 0xff000000 | (0x9c + up) << 16 | (0x7c + up) << 8 | (0x6c + up));
      }
    const EyeMap map = p.map();
    QVERIFY(!map.strongest.empty());
    QVERIFY((map.strongest[0].pixel - Vec2(355, 220)).norm() < 40);
  }
  void whatIsMarkedHasItsShare() {
    const EyeMap map = bars(21, kRed).map();
    std::vector<uint8_t> odd(480 * 320), other = odd;
    for (int y = 0; y < 50; ++y)
      for (int x = 0; x < 30; ++x) {
        odd[static_cast<size_t>((135 + y) * kSize.width + 295 + x)] = 1;
        other[static_cast<size_t>((135 + y) * kSize.width + 67 + x)] = 1;
      }
    const float share = drawOf(map, odd, kSize), others = drawOf(map, other, kSize);
    QVERIFY2(share > 2 * others, qPrintable(QString("%1 and %2").arg(share).arg(others)));
    const std::vector<uint8_t> all(480 * 320, 1), none(480 * 320);
    QVERIFY(std::abs(drawOf(map, all, kSize) - 1) < 1e-3f);
    QCOMPARE(drawOf(map, none, kSize), 0.f);
  }
  void strangeSizesHold() {
    for (const ViewSize& size : {ViewSize{1, 1}, ViewSize{3, 700}, ViewSize{241, 1}}) {
      const size_t n = static_cast<size_t>(size.width) * static_cast<size_t>(size.height);
      const EyeMap map = whereTheEyeGoes(std::vector<uint32_t>(n, kSkin), std::vector<uint8_t>(n, 1), size);
      QVERIFY(map.strongest.empty());
      QCOMPARE(map.draw.size(), static_cast<size_t>(map.size.width) * static_cast<size_t>(map.size.height));
    }
  }
};

JUVENOR_TEST(TestWhereTheEyeGoes)

}  // namespace juvenor

#include "test_where_the_eye_goes.moc"
