// Stills against what optics and geometry say of them: the area of a disc, the circle of confusion of a thin
// lens (c = A · |d − s| / d · f / (s − f), any textbook of optics), and against the easel's own picture.
#include <OpenImageIO/imageio.h>

#include <numbers>

#include "core/document/edits/edits.h"
#include "core/render/still.h"
#include "core/show/finishing.h"
#include "core/show/still_file.h"
#include "support/made.h"
#include "support/run_all.h"
#include "support/sanitized.h"

namespace juvenor {
namespace {

ShownScene::Pointer sceneOf(const Document& document) {
  auto scene = ShownScene::of(document, true);
  return scene ? *scene : nullptr;
}

StillWish flatWish(const ViewSize& size, int samples) {
  StillWish out;
  out.size = size;
  out.samples = samples;
  out.look.view = View::Flat;
  return out;
}

// A white square so far before the eye, on its axis.
Document spotAt(float z, float size) {
  Sculpt spot = test::plane(2, size);
  for (Vec3& v : spot.vertices) v.z() = z;
  Document out = test::documentOf(spot);
  out.bare = {1, 1, 1};
  return out;
}

// Of the light across, in pixels²: the mean of both ways.
double spread(const StillPicture& picture) {
  double sum = 0, sx = 0, sy = 0, sxx = 0, syy = 0;
  for (int y = 0; y < picture.size.height; ++y)
    for (int x = 0; x < picture.size.width; ++x) {
      const double l = picture.cover(static_cast<size_t>(y * picture.size.width + x));
      sum += l;
      sx += l * x;
      sy += l * y;
      sxx += l * x * x;
      syy += l * y * y;
    }
  return 0.5 * ((sxx - sx * sx / sum) / sum + (syy - sy * sy / sum) / sum);
}

}  // namespace

class TestStills : public QObject {
  Q_OBJECT
 private slots:
  void coverIsTheAreaOfADisc() {
    const auto scene = sceneOf(test::documentOf(test::sphere(160, 10)));
    StillWish wish = flatWish({150, 150}, 64);
    wish.look.camera.parallel = true;
    wish.look.camera.distance = 100;
    const auto picture = stillPicture(*scene, wish, true);
    QVERIFY(picture);
    const float perUnit = pixelsPerUnit(wish.look.camera, wish.size, Vec3::Zero());
    double sum = 0;
    for (size_t i = 0; i < picture->pixels.size(); ++i) sum += picture->cover(i);
    const double disc = std::numbers::pi * std::pow(10.0 * perUnit, 2);
    QVERIFY2(std::abs(sum / disc - 1) < 0.003, qPrintable(QString("%1 of %2").arg(sum).arg(disc)));
    QCOMPARE(picture->cover(75 * 150 + 75), 1.f);
    QCOMPARE(picture->cover(0), 0.f);
    // and pixel by pixel along a row through the middle, half a pixel's reach aside
    const double edge = 75 + 10.0 * perUnit;
    QVERIFY(picture->cover(static_cast<size_t>(75 * 150 + static_cast<int>(edge - 2))) > 0.99f);
    QVERIFY(picture->cover(static_cast<size_t>(75 * 150 + static_cast<int>(edge + 2))) < 0.01f);
  }

  void blurIsTheCircleOfConfusion_data() {
    QTest::addColumn<float>("aperture");
    QTest::addColumn<float>("depth");
    QTest::newRow("behind, wide open") << 3.5f << 6000.f;
    QTest::newRow("behind, half closed") << 10.f << 9000.f;
    QTest::newRow("before") << 5.f << 2500.f;
  }
  void blurIsTheCircleOfConfusion() {
    QFETCH(float, aperture);
    QFETCH(float, depth);
    const float sharp = 4000;
    const auto scene = sceneOf(spotAt(-depth, 20));
    StillWish wish = flatWish({120, 120}, test::kSanitized ? 128 : 512);
    wish.look.camera.target = {0, 0, -sharp};
    wish.look.camera.distance = sharp;
    wish.look.camera.fieldOfView = 3.2f;
    wish.look.focus = {0, Vec3(0, 0, -sharp)};
    const auto pinhole = stillPicture(*scene, wish, true);
    wish.look.focus.aperture = aperture;
    const auto open = stillPicture(*scene, wish, true);
    QVERIFY(pinhole && open);
    // an even disc has a deviation of a quarter of its diameter
    const double told = 4 * std::sqrt(spread(*open) - spread(*pinhole));
    // the picture lies so far behind the lens, and is sharp of what is `sharp` before it
    const double behind = 12 / std::tan(1.6 * std::numbers::pi / 180), wide = behind / aperture;
    const double f = behind * sharp / (behind + sharp);
    const double circle = wide * std::abs(depth - sharp) / depth * f / (sharp - f);  // mm
    const double pixels = circle / 24 * 120;
    QVERIFY2(std::abs(told / pixels - 1) < (test::kSanitized ? 0.04 : 0.02),
             qPrintable(QString("%1 pixels, %2 by the formula").arg(told).arg(pixels)));
  }
  void whatIsPressedIsSharp() {
    const auto scene = sceneOf(spotAt(-4000, 20));
    StillWish wish = flatWish({200, 200}, 64);
    wish.look.camera.target = {0, 0, -3000};
    wish.look.camera.distance = 3000;
    wish.look.camera.fieldOfView = 4;
    const auto pinhole = stillPicture(*scene, wish, true);
    wish.look.focus = {1.4f, Vec3(0, 0, -4000)};
    const auto pressed = stillPicture(*scene, wish, true);
    // what lies in the middle of the picture, when nothing was pressed
    wish.look.focus.sharp.reset();
    const auto middle = stillPicture(*scene, wish, true);
    wish.look.focus.sharp = Vec3(0, 0, -3000);
    const auto before = stillPicture(*scene, wish, true);
    QVERIFY(pinhole && pressed && middle && before);
    QVERIFY(std::abs(spread(*pressed) - spread(*pinhole)) < 0.05);
    QVERIFY(std::abs(spread(*middle) - spread(*pinhole)) < 0.05);
    QVERIFY(spread(*before) > spread(*pinhole) + 4);
  }

  // A still with as many rays is what the easel settles to.
  void isWhatTheEaselShows() {
    const Document d = test::documentOf(test::sphere(60, 10));
    StillSetting easel;
    easel.size = {200, 140};
    easel.camera = framed(easel.camera, easel.size, shownPoints(d));
    const auto shown = stillOf(d, easel);
    StillWish wish;
    wish.size = easel.size;
    wish.samples = kSettledEdgeRays;
    wish.look.camera = easel.camera;
    wish.look.lightFollows = false;
    wish.look.backdrop.color = {108 / 255.f, 108 / 255.f, 108 / 255.f};
    const auto scene = sceneOf(d);
    const auto still = stillPicture(*scene, wish, false);
    QVERIFY(shown && still);
    const auto bytes = bytesOf(*still);
    size_t other = 0;
    for (size_t i = 0; i < bytes.size(); ++i)
      for (const int shift : {0, 8, 16})
        if (std::abs(static_cast<int>(bytes[i] >> shift & 0xff) -
                     static_cast<int>((*shown)[i] >> shift & 0xff)) > 1)
          ++other;
    QVERIFY2(other == 0, qPrintable(QString::number(other)));
    QCOMPARE(bytes[0] & 0xffffff, 0x6c6c6cu);
  }

  void backdropsAreWhatTheySay() {
    const auto scene = sceneOf(test::documentOf(test::sphere(20, 10)));
    StillWish wish = flatWish({64, 64}, 4);
    wish.look.camera.distance = 500;
    wish.look.backdrop.kind = BackdropKind::Gradient;
    wish.look.backdrop.color = {0, 0, 0};
    wish.look.backdrop.top = {1, 1, 1};
    const auto fade = stillPicture(*scene, wish, false);
    QVERIFY(fade);
    for (size_t y = 1; y < 64; ++y) QVERIFY(fade->light(y * 64).x() < fade->light((y - 1) * 64).x());
    wish.look.backdrop.kind = BackdropKind::Picture;
    wish.look.backdrop.picture = "/nowhere/at-all.png";
    const auto missing = stillPicture(*scene, wish, false);
    QVERIFY(!missing);
    QVERIFY(missing.error().message().find("at-all.png") != std::string::npos);
    // nothing is behind what is clear, and so nothing is read
    QVERIFY(stillPicture(*scene, wish, true));
  }

  void theFloorTakesAShadow() {
    const Document d = test::documentOf(test::sphere(40, 10));
    const auto scene = sceneOf(d);
    StillWish wish;
    wish.size = {120, 90};
    wish.samples = 64;
    wish.look.backdrop.ground = true;
    wish.look.camera = framed(turned(wish.look.camera, Vec2(0, 40)), wish.size, shownPoints(d));
    wish.look.camera.distance *= 2.5f;
    const auto still = stillPicture(*scene, wish, true);
    QVERIFY(still);
    const auto coverAt = [&](const Vec3& place) {
      const Vec3 p = project(wish.look.camera, wish.size, place);
      return still->cover(static_cast<size_t>(p.y()) * 120 + static_cast<size_t>(p.x()));
    };
    // under the sphere's rim most of the sky is hidden, a diameter away little is
    const float near = coverAt({0, -10, 9.5f}), beside = coverAt({0, -10, 16}), far = coverAt({-32, -10, 8});
    QVERIFY2(near > 0.35f && near < 1 && beside < near && far < 0.5f * beside,
             qPrintable(QString("%1 %2 %3").arg(near).arg(beside).arg(far)));
    wish.look.backdrop.ground = false;
    const auto without = stillPicture(*scene, wish, true);
    QVERIFY(without);
    const Vec3 p = project(wish.look.camera, wish.size, Vec3(0, -10, 16));
    QCOMPARE(without->cover(static_cast<size_t>(p.y()) * 120 + static_cast<size_t>(p.x())), 0.f);
  }

  void finishingAddsLittle() {
    StillPicture even;
    even.size = {120, 80};
    even.pixels.resize(120 * 80);
    for (size_t i = 0; i < even.pixels.size(); ++i) even.set(i, Vec3::Constant(0.5f), 1);
    StillPicture bloom = even, dark = even, grain = even;
    finish(bloom, {.bloom = 1});
    for (size_t i = 0; i < even.pixels.size(); ++i) QVERIFY(std::abs(bloom.light(i).x() - 0.5f) < 2e-3f);
    finish(dark, {.vignette = 1});
    QVERIFY(std::abs(dark.light(40 * 120 + 60).x() - 0.5f) < 2e-3f);
    QVERIFY(std::abs(dark.light(0).x() - 0.125f) < 5e-3f);
    finish(grain, {.grain = 1});
    double sum = 0, square = 0;
    for (size_t i = 0; i < even.pixels.size(); ++i) {
      sum += grain.light(i).x();
      square += std::pow(grain.light(i).x() - 0.5, 2);
    }
    const auto count = static_cast<double>(even.pixels.size());
    QVERIFY(std::abs(sum / count - 0.5) < 2e-3);
    QVERIFY(std::abs(std::sqrt(square / count) - 0.05) < 2e-3);
    // what is bright shines over its edge, and all light together stays
    StillPicture spot = even;
    for (size_t i = 0; i < spot.pixels.size(); ++i) spot.set(i, Vec3::Zero(), 1);
    spot.set(40 * 120 + 60, Vec3::Constant(100), 1);
    finish(spot, {.bloom = 1});
    QVERIFY(spot.light(40 * 120 + 64).x() > 0);
    double all = 0;
    for (size_t i = 0; i < spot.pixels.size(); ++i) all += spot.light(i).x();
    QVERIFY2(std::abs(all - 100) < 2, qPrintable(QString::number(all)));
  }

  void filesHoldWhatWasMade() {
    const test::Folder folder;
    const auto scene = sceneOf(test::documentOf(test::sphere(30, 10)));
    StillWish wish = flatWish({90, 60}, 16);
    wish.look.camera.distance = 60;
    const auto clear = stillPicture(*scene, wish, true);
    QVERIFY(clear);
    for (const char* name : {"still.png", "still.exr", "still.tif"}) {
      QVERIFY(writeStill(folder / name, *clear, true, StillDepth::Bits16));
      const auto in = OIIO::ImageInput::open((folder / name).string());
      QVERIFY(in);
      QCOMPARE(in->spec().width, 90);
      QCOMPARE(in->spec().nchannels, 4);
      std::vector<float> read(90 * 60 * 4);
      QVERIFY(in->read_image(0, 0, 0, -1, OIIO::TypeDesc::FLOAT, read.data()));
      for (size_t i = 0; i < 90 * 60; ++i) QVERIFY(std::abs(read[4 * i + 3] - clear->cover(i)) < 1e-3f);
      if (std::string_view(name) == "still.exr")
        for (size_t i = 0; i < 90 * 60; ++i)
          QVERIFY(std::abs(read[4 * i] - clear->light(i).x()) <= 1e-3f * clear->light(i).x());
    }
    const auto in = OIIO::ImageInput::open((folder / "still.png").string());
    QCOMPARE(in->spec().format.basetype, static_cast<unsigned char>(OIIO::TypeDesc::UINT16));
    const Outcome jpeg = writeStill(folder / "still.jpg", *clear, true);
    QVERIFY(!jpeg);
    const Outcome odd = writeStill(folder / "still.xyz", *clear, false);
    QVERIFY(!odd && odd.error().message().find(".exr") != std::string::npos);
    QVERIFY(!std::filesystem::exists(folder / "still.xyz"));
  }

  void tilesComeFromTheMiddleAndCoverAll() {
    const ViewSize size{500, 300};
    std::vector<int> seen(500 * 300, 0);
    const auto tiles = stillTiles(size);
    for (const PixelRect& r : tiles)
      for (int y = r.top; y < r.bottom; ++y)
        for (int x = r.left; x < r.right; ++x) ++seen[static_cast<size_t>(y * 500 + x)];
    QVERIFY(std::ranges::all_of(seen, [](int n) { return n == 1; }));
    QVERIFY(tiles.front().left <= 250 && tiles.front().right >= 250);
  }

  void badWishesAndCancelsAreErrors() {
    const auto scene = sceneOf(test::documentOf(test::sphere(10, 10)));
    StillWish wish = flatWish({20'000, 10}, 1);
    QVERIFY(!stillPicture(*scene, wish, true));
    wish = flatWish({10, 10}, 0);
    QVERIFY(!stillPicture(*scene, wish, true));
    wish = flatWish({64, 64}, 4);
    const auto stopped = stillPicture(*scene, wish, true, {}, [](float) { return false; });
    QVERIFY(!stopped && isCancelled(stopped.error()));
    size_t tiles = 0, pixels = 0;
    wish.size = {300, 200};
    QVERIFY(stillPicture(*scene, wish, false, [&](const TileShown& t) {
      ++tiles;
      pixels += t.pixels.size();
    }));
    QCOMPARE(pixels, size_t{300 * 200});
    QCOMPARE(tiles, size_t{6});
  }
};

JUVENOR_TEST(TestStills)

}  // namespace juvenor

#include "test_stills.moc"
