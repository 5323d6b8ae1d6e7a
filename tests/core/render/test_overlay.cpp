// What lies over the skin, what stands behind it, and the value check.
#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/render/still.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

uint32_t grey(uint32_t v) {
  return 0xff000000u | v * 0x010101u;
}

// A sphere in the middle of a small picture, flat in one colour.
struct Ball {
  Document document = test::documentOf(test::sphere(64, 10));
  ChannelFields skin;
  VisibilityImage seen;
  ShadeInput input;

  Ball() {
    document.bare = {0.8f, 0.4f, 0.2f};
    skin = *skinOf(document.layers, *document.maps, document.bare);
    input.surface = document.surface.get();
    input.skin = &skin;
    input.camera = framed({}, {80, 60}, document.surface->positions);
    input.view = View::Flat;
    castVisibility(**document.maps->rays(), input.camera, {80, 60}, {0.5f, 0.5f}, {}, seen);
  }
  std::vector<uint32_t> shaded() const {
    std::vector<uint32_t> out(seen.triangle.size());
    shade(input, seen, {0, 0, 80, 60}, out);
    return out;
  }
};

}  // namespace

class TestOverlay : public QObject {
  Q_OBJECT
 private slots:
  void aMapIsShownInsteadOfColours() {
    Ball ball;
    MaskTerm up;
    up.map = {&kElevationMap, 0, Vec3::UnitY()};
    const auto map = *maskOf(*ball.document.maps, {up});
    ball.input.overlay = map.get();
    const auto pixels = ball.shaded();
    for (size_t i = 0; i < pixels.size(); ++i) {
      if (ball.seen.triangle[i] == kNone) {
        QCOMPARE(pixels[i], ball.input.background);
        continue;
      }
      const uint32_t r = pixels[i] >> 16 & 255, g = pixels[i] >> 8 & 255, b = pixels[i] & 255;
      QVERIFY(r == g && g == b);
    }
    // brighter upward
    QVERIFY((pixels[10 * 80 + 40] & 255) > (pixels[30 * 80 + 40] & 255) + 40);
    ball.input.overlayLook = OverlayLook::FalseColor;
    const auto coloured = ball.shaded();
    QVERIFY(coloured[30 * 80 + 40] != pixels[30 * 80 + 40]);
  }
  // Where a mask shows everything the skin is as it was; where it hides there are neutral stripes.
  void aMaskIsStriped() {
    Ball ball;
    const auto plain = ball.shaded();
    ScalarField mask = openMask(ball.document.surface->size());
    ball.input.overlay = &mask;
    ball.input.overlayLook = OverlayLook::Mask;
    QCOMPARE(ball.shaded(), plain);
    mask = ScalarField(ball.document.surface->size(), {0});
    const auto striped = ball.shaded();
    std::set<uint32_t> seen;
    for (size_t i = 0; i < plain.size(); ++i)
      if (ball.seen.triangle[i] != kNone) seen.insert(striped[i]);
    QCOMPARE(seen.size(), size_t{2});
  }
  void aPictureStandsBehind() {
    Ball ball;
    std::vector<uint32_t> behind(80 * 60);
    for (size_t i = 0; i < behind.size(); ++i) behind[i] = grey(i % 200);
    ball.input.behind = behind;
    const auto pixels = ball.shaded();
    for (size_t i = 0; i < pixels.size(); ++i)
      if (ball.seen.triangle[i] == kNone) QCOMPARE(pixels[i], behind[i]);
  }
  void valuesAreCutIntoEvenSteps() {
    VisibilityImage all;
    all.resize({256, 1});
    std::ranges::fill(all.triangle, 0u);
    std::vector<uint32_t> pixels(256);
    for (uint32_t v = 0; v < 256; ++v) pixels[v] = grey(v);
    const auto before = pixels;
    checkValues({}, all, pixels);
    QCOMPARE(pixels, before);
    for (int steps = 2; steps <= 9; ++steps) {
      auto cut = before;
      checkValues({steps, 0}, all, cut);
      std::map<uint32_t, int> counts;
      for (const uint32_t p : cut) ++counts[p];
      QCOMPARE(static_cast<int>(counts.size()), steps);
      for (const auto& [value, count] : counts) QVERIFY(std::abs(count - 256 / steps) <= 1);
      QVERIFY(cut.front() == grey(0) && cut.back() == grey(255));
    }
  }
  // A squint spreads an edge by its standard deviation; what is no sculpt stays and lends nothing.
  void squintingBlursTheSculptAlone() {
    VisibilityImage image;
    image.resize({200, 9});
    std::vector<uint32_t> pixels(200 * 9);
    for (size_t i = 0; i < pixels.size(); ++i) {
      const size_t x = i % 200;
      image.triangle[i] = x < 180 ? 0 : kNone;
      pixels[i] = x < 180 ? grey(x < 90 ? 40 : 200) : grey(255);
    }
    checkValues({0, 6}, image, pixels);
    const auto at = [&](size_t x) { return static_cast<double>(pixels[4 * 200 + x] & 255); };
    QCOMPARE(at(190), 255.0);
    QVERIFY(std::abs(at(178) - 200) <= 1 && std::abs(at(5) - 40) <= 1);
    double variance = 0, mass = 0;
    for (size_t x = 50; x < 130; ++x) {
      const double slope = at(x + 1) - at(x), away = static_cast<double>(x) + 1 - 90;
      variance += slope * away * away;
      mass += slope;
    }
    QVERIFY2(std::abs(std::sqrt(variance / mass) - 6) < 0.8,
             qPrintable(QString::number(std::sqrt(variance / mass))));
  }
  // A part that changed is checked alone and comes out as all of the picture would, to the bit; beyond what
  // it touches nothing changes.
  void aPartIsCheckedAsTheWholeIs() {
    Ball ball;
    const ViewSize size{80, 60};
    std::vector<uint32_t> pixels = ball.shaded();
    const PixelRect dab{35, 25, 42, 33};
    for (const ValueCheck& check : {ValueCheck{5, 0}, ValueCheck{0, 2.5f}, ValueCheck{4, 1.5f}}) {
      auto before = pixels;
      checkValues(check, ball.seen, before);
      std::vector<uint32_t> changed = pixels;
      for (int y = dab.top; y < dab.bottom; ++y)
        for (int x = dab.left; x < dab.right; ++x)
          changed[static_cast<size_t>(y * 80 + x)] = grey(static_cast<uint32_t>(x * 6 % 255));
      auto whole = changed;
      checkValues(check, ball.seen, whole);
      QVERIFY(whole != before);
      auto parts = before;
      const PixelRect touched = touchedBy(check, dab, size);
      checkValues(check, ball.seen, changed, touched, parts);
      QCOMPARE(parts, whole);
      QVERIFY(touched.left <= dab.left && touched.right - touched.left < 40);
    }
  }
  void histogramCountsTheSculpt() {
    Ball ball;
    const auto pixels = ball.shaded();
    const ValueHistogram h = valueHistogram(ball.seen, pixels);
    uint32_t sum = 0;
    for (const uint32_t n : h) sum += n;
    QCOMPARE(static_cast<long>(sum),
             std::ranges::count_if(ball.seen.triangle, [](uint32_t t) { return t != kNone; }));
  }
  void stillsShowMapsAndSteps() {
    Ball ball;
    StillSetting setting;
    setting.camera = ball.input.camera;
    setting.size = {80, 60};
    setting.view = View::Value;
    setting.check = {2, 0};
    const auto cut = stillOf(ball.document, setting);
    QVERIFY(cut);
    for (size_t i = 0; i < cut->size(); ++i)
      if (ball.seen.triangle[i] != kNone) QVERIFY((*cut)[i] == grey(0) || (*cut)[i] == grey(255));
    MaskTerm facing;
    facing.map = {&kFacingMap, 0, Vec3::UnitZ()};
    setting.map = facing;
    setting.view = View::Flat;
    const auto mapped = stillOf(ball.document, setting);
    QVERIFY(mapped && (*mapped)[30 * 80 + 40] != (*cut)[30 * 80 + 40]);
  }
};

JUVENOR_TEST(TestOverlay)
}  // namespace juvenor
#include "test_overlay.moc"
