// Stepping back from a made-up picture: coverage, sizes and greys are known beforehand.
#include <set>

#include "core/stepback/step_back.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr ViewSize kWhole{400, 300};
constexpr uint32_t kGround = 0xff6c6c6c;

struct Stepped {
  std::vector<uint32_t> pixels = std::vector<uint32_t>(400 * 300, kGround);
  std::vector<uint8_t> sculpt = std::vector<uint8_t>(400 * 300, 0);

  void fill(int left, int top, int right, int bottom, uint32_t color) {
    for (int y = top; y < bottom; ++y)
      for (int x = left; x < right; ++x) {
        const auto at = static_cast<size_t>(y * kWhole.width + x);
        pixels[at] = color;
        sculpt[at] = 1;
      }
  }
  SteppedBack back(int across = 100) const { return steppedBack(pixels, sculpt, kWhole, across, kGround); }
};

uint32_t shownAt(const SmallPicture& p, int x, int y) {
  return p.pixels[static_cast<size_t>(y * p.size.width + x)];
}

}  // namespace

class TestStepBack : public QObject {
  Q_OBJECT
 private slots:
  void outlineIsWhatCovers() {
    Stepped p;
    p.fill(100, 60, 220, 240, 0xffffffff);
    const SteppedBack back = p.back();
    QCOMPARE(back.outline.size.width, 100);
    QCOMPARE(back.outline.size.height, 75);
    QCOMPARE(shownAt(back.outline, 40, 30), 0xff1c1c1cu);
    QCOMPARE(shownAt(back.outline, 10, 30), 0xffd8d8d8u);
    const auto dark = std::ranges::count(back.outline.pixels, 0xff1c1c1cu);
    QCOMPARE(dark, std::ptrdiff_t{30 * 45});
    const SmallPicture other = flipped(back.outline);
    QCOMPARE(shownAt(other, 99 - 40, 30), 0xff1c1c1cu);
    QCOMPARE(shownAt(other, 89, 30), 0xffd8d8d8u);
    QVERIFY(flipped(other).pixels == back.outline.pixels);
  }
  void farIsAThumbsNailOfTheSculpt() {
    Stepped p;
    p.fill(10, 20, 370, 200, 0xffb09080);
    const SmallPicture far = p.back().far;
    QCOMPARE(far.size.width, kFarPixels);
    QCOMPARE(far.size.height, kFarPixels / 2);
    QVERIFY(std::ranges::all_of(far.pixels, [](uint32_t c) { return c == 0xffb09080; }));
    QVERIFY(Stepped().back().far.pixels.empty());
  }
  // Light is added as light: half black, half white is not the grey between their numbers.
  void meansAreOfLight() {
    Stepped p;
    for (int x = 0; x < 384; ++x) p.fill(x, 0, x + 1, 300, x % 2 ? 0xffffffff : 0xff000000);
    const uint32_t grey = shownAt(p.back().far, 20, 10) & 0xff;
    QVERIFY2(grey > 180 && grey < 196, qPrintable(QString::number(grey)));
  }
  void greysAreFive() {
    Stepped p;
    for (int x = 0; x < 400; ++x) {
      const auto v = static_cast<uint32_t>(x * 255 / 399);
      p.fill(x, 0, x + 1, 300, 0xff000000 | v << 16 | v << 8 | v);
    }
    const SmallPicture greys = p.back().greys;
    std::set<uint32_t> seen(greys.pixels.begin(), greys.pixels.end());
    QCOMPARE(seen.size(), size_t{5});
    for (int x = 1; x < greys.size.width; ++x)
      QVERIFY((shownAt(greys, x, 5) & 0xff) >= (shownAt(greys, x - 1, 5) & 0xff));
    for (const uint32_t c : seen) QVERIFY((c >> 16 & 0xff) == (c & 0xff) && (c >> 8 & 0xff) == (c & 0xff));
  }
  void heatIsWhereTheEyeGoes() {
    Stepped p;
    p.fill(40, 30, 360, 270, 0xffb09080);
    p.fill(300, 200, 320, 220, 0xff303030);
    const SteppedBack back = p.back();
    QVERIFY(!back.eye.strongest.empty());
    QVERIFY((back.eye.strongest[0].pixel - Vec2(310, 210)).norm() < 25);
    const auto warm = [&](int x, int y) {
      const uint32_t c = shownAt(back.heat, x, y);
      return static_cast<int>(c >> 16 & 0xff) - static_cast<int>(c & 0xff);
    };
    QVERIFY2(warm(77, 52) > 60, qPrintable(QString::number(warm(77, 52))));
    QVERIFY(std::abs(warm(25, 20)) < 20);
    QCOMPARE(shownAt(back.heat, 2, 2), kGround);
  }
};

JUVENOR_TEST(TestStepBack)

}  // namespace juvenor

#include "test_step_back.moc"
