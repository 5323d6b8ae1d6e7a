// The picture while the eye moves: what is carried over lies where a ray would have found it.
#include "core/render/enlarged.h"
#include "core/render/moving_picture.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr ViewSize kWhole{322, 201};

// A ball before another: turning, one hides more and more of the other.
struct Balls {
  std::shared_ptr<const Surface> surface =
      test::surfaceOf(test::together(test::sphere(90, 10), test::sphere(60, 5, {-4, 0, 14})));
  Rays rays{surface, Rays::Quality::Quick};
  Camera camera = framed({}, kWhole, surface->bounds);
};

Vec3 placeOf(const Surface& surface, const VisibilityImage& seen, size_t at) {
  const Triangle& t = surface.triangles[seen.triangle[at]];
  const float u = from16(seen.weights[at][0]), v = from16(seen.weights[at][1]);
  return (1 - u - v) * surface.positions[t[0]] + u * surface.positions[t[1]] + v * surface.positions[t[2]];
}

}  // namespace

class TestMovingPicture : public QObject {
  Q_OBJECT
 private slots:
  void whatStandsStillIsSeenTheSameByAQuarterOfTheRays() {
    const Balls balls;
    MovingPicture moving;
    moving.see(balls.rays, balls.camera, kWhole, 2, {});
    const std::vector<uint32_t> first = moving.visibility().triangle;
    QCOMPARE(moving.visibility().size, (ViewSize{161, 101}));
    moving.see(balls.rays, balls.camera, kWhole, 2, {});
    QVERIFY(moving.visibility().triangle == first);
    const double cast = static_cast<double>(moving.raysCast()) / static_cast<double>(first.size());
    QVERIFY2(cast > 0.2 && cast < 0.4, qPrintable(QString::number(cast)));
    // another size of pixels is another picture
    moving.see(balls.rays, balls.camera, kWhole, 3, {});
    QCOMPARE(moving.visibility().size, (ViewSize{108, 67}));
    const auto skin = moving.visibility().triangle.size() -
                      static_cast<size_t>(std::ranges::count(moving.visibility().triangle, kNone));
    QVERIFY(moving.raysCast() >= skin);
  }
  // The whole picture at rest is what the first of a turn carries over.
  void itStartsFromTheWholePicture() {
    const Balls balls;
    VisibilityImage whole;
    castVisibility(balls.rays, balls.camera, kWhole, {0.5f, 0.5f}, {}, whole);
    const std::vector<uint32_t> pixels(whole.triangle.size(), 0xff123456);
    MovingPicture moving, alone;
    QVERIFY(!moving.rests());
    moving.rest(balls.camera);
    QVERIFY(moving.rests());
    moving.startFrom(whole, pixels, *balls.surface, 2);
    const Camera camera = turned(balls.camera, {3, 0});
    moving.see(balls.rays, camera, kWhole, 2, {}, true);
    alone.see(balls.rays, camera, kWhole, 2, {}, true);
    QVERIFY(moving.carries() && !alone.carries());
    QVERIFY2(5 * moving.raysCast() < 4 * alone.raysCast(), qPrintable(QString::number(moving.raysCast())));
    const std::vector<uint32_t> fresh(moving.visibility().triangle.size(), 0xffffffff);
    size_t same = 0, skin = 0, kept = 0;
    const auto shown = moving.shaded(fresh);
    for (size_t at = 0; at < fresh.size(); ++at) {
      const bool seen = moving.visibility().triangle[at] != kNone;
      same += seen == (alone.visibility().triangle[at] != kNone);
      skin += seen;
      kept += seen && shown[at] == 0xff123456;
    }
    QVERIFY(same * 200 > 199 * fresh.size());
    QVERIFY2(3 * kept > skin && 5 * kept < 4 * skin, qPrintable(QString("%1 of %2").arg(kept).arg(skin)));
    moving.rest(camera);
    moving.forget();
    QVERIFY(!moving.rests());
  }
  // Turned, drawn nearer and moved: nearly every pixel shows the skin that is there, a pixel's width aside at
  // most, and nothing of what another ball hides by now.
  void whatIsCarriedLiesWhereARayFindsIt() {
    const Balls balls;
    Camera camera = balls.camera;
    MovingPicture moving;
    size_t off = 0, skin = 0, cast = 0, all = 0;
    for (int i = 0; i < 24; ++i) {
      camera = i % 3 == 2   ? zoomed(camera, kWhole, i < 12 ? 0.97f : 1.03f, {100, 90})
               : i % 3 == 1 ? panned(camera, kWhole, {2.3f, -1.6f})
                            : turned(camera, {4, 1});
      moving.see(balls.rays, camera, kWhole, 2, {});
      MovingPicture fresh;
      fresh.see(balls.rays, camera, kWhole, 2, {});
      const VisibilityImage &seen = moving.visibility(), &is = fresh.visibility();
      const float pixel = 2 / pixelsPerUnit(camera, kWhole, camera.target);
      for (size_t at = 0; at < seen.triangle.size(); ++at) {
        if (is.triangle[at] == kNone && seen.triangle[at] == kNone) continue;
        ++skin;
        if (is.triangle[at] == kNone || seen.triangle[at] == kNone) {
          ++off;
          continue;
        }
        const Vec3 here = placeOf(*balls.surface, seen, at), there = placeOf(*balls.surface, is, at);
        // along the look a place may lie far off where the skin leans away
        const Vec3 apart = project(camera, kWhole, here) - project(camera, kWhole, there);
        const bool same =
            balls.surface->triangleParts[seen.triangle[at]] == balls.surface->triangleParts[is.triangle[at]];
        off += !same || apart.head<2>().norm() > 2 + 2 * balls.surface->spacing / pixel;
      }
      if (i > 0) {
        cast += moving.raysCast();
        all += seen.triangle.size();
      }
    }
    QVERIFY(skin > 50'000);
    const double wrong = static_cast<double>(off) / static_cast<double>(skin);
    QVERIFY2(wrong < 0.001, qPrintable(QString::number(wrong)));
    const double part = static_cast<double>(cast) / static_cast<double>(all);
    QVERIFY2(part < 0.5, qPrintable(QString::number(part)));
  }
  // A colour that was shaded five pictures ago is gone, however slowly one turns.
  void nothingIsCarriedForLong() {
    const Balls balls;
    Camera camera = balls.camera;
    MovingPicture moving;
    size_t carried = 0;
    for (uint32_t i = 0; i < 12; ++i) {
      camera = turned(camera, {0.3f, 0});
      moving.see(balls.rays, camera, kWhole, 2, {});
      const std::vector<uint32_t> now(moving.visibility().triangle.size(), 0xff000000 | i);
      for (const uint32_t pixel : moving.shaded(now)) {
        const uint32_t then = pixel & 0xff;
        QVERIFY(then + 4 >= i && then <= i);
        carried += then < i;
      }
    }
    QVERIFY(carried > 10'000);
    moving.forget();
    moving.see(balls.rays, camera, kWhole, 2, {});
    const std::vector<uint32_t> now(moving.visibility().triangle.size(), 0xff0000ff);
    for (const uint32_t pixel : moving.shaded(now)) QCOMPARE(pixel, 0xff0000ffu);
  }
  // Under light a colour is carried through a few degrees and no farther, since what is mirrored moves; what
  // is seen there is carried on.
  void lightIsNotCarriedFar() {
    const Balls balls;
    for (const bool lit : {false, true})
      for (const float drag : {1.f, 12.f}) {
        Camera camera = balls.camera;
        MovingPicture moving;
        for (int i = 0; i < 4; ++i) {
          camera = turned(camera, {drag, 0});
          moving.see(balls.rays, camera, kWhole, 2, {}, lit);
        }
        const bool far = drag * kDegreesPerPixel > MovingPicture::kMostTurned;
        const double cast =
            static_cast<double>(moving.raysCast()) / static_cast<double>(moving.visibility().triangle.size());
        const size_t fresh = static_cast<size_t>(
            std::ranges::count_if(moving.fresh().triangle, [](uint32_t t) { return t != kNone; }));
        const size_t skin = static_cast<size_t>(
            std::ranges::count_if(moving.visibility().triangle, [](uint32_t t) { return t != kNone; }));
        QVERIFY2((fresh == skin) == (lit && far), qPrintable(QString("%1 of %2").arg(fresh).arg(skin)));
        QVERIFY2(cast < 0.6, qPrintable(QString::number(cast)));
      }
  }
  // What is shaded is what has a ray of its own: where the light stays, only that.
  void freshPixelsAreThoseWithRays() {
    const Balls balls;
    MovingPicture moving;
    moving.see(balls.rays, balls.camera, kWhole, 2, {});
    moving.see(balls.rays, turned(balls.camera, {5, 0}), kWhole, 2, {});
    size_t fresh = 0, skin = 0;
    for (size_t at = 0; at < moving.fresh().triangle.size(); ++at) {
      skin += moving.visibility().triangle[at] != kNone;
      if (moving.fresh().triangle[at] == kNone) continue;
      QCOMPARE(moving.fresh().triangle[at], moving.visibility().triangle[at]);
      ++fresh;
    }
    QVERIFY2(fresh > skin / 5 && fresh < skin * 3 / 5, qPrintable(QString("%1 of %2").arg(fresh).arg(skin)));
  }
  void hiddenPartsAreSeenThrough() {
    const Balls balls;
    MovingPicture moving;
    for (int i = 0; i < 3; ++i) moving.see(balls.rays, balls.camera, kWhole, 2, {1});
    for (const uint32_t t : moving.visibility().triangle)
      QVERIFY(t == kNone || balls.surface->triangleParts[t] == 0);
  }

  void enlargedPicturesAreEvenWhereTheSmallOneIs() {
    for (const int part : {1, 2, 3, 5}) {
      const ViewSize whole{37, 23}, size = partOf(whole, part);
      std::vector<uint32_t> small(static_cast<size_t>(size.width * size.height), 0xff7f3001);
      std::vector<uint32_t> out(static_cast<size_t>(whole.width * whole.height));
      enlarge(small, part, whole, out);
      for (const uint32_t pixel : out) QCOMPARE(pixel, 0xff7f3001u);
    }
  }
  // A ramp of the small picture is the same ramp in the large one, but for half a small pixel at its ends.
  void enlargedRampsAreStraight() {
    constexpr int kPart = 2;
    const ViewSize whole{120, 8}, size = partOf(whole, kPart);
    std::vector<uint32_t> small;
    for (int y = 0; y < size.height; ++y)
      for (int x = 0; x < size.width; ++x)
        small.push_back(0xff000000 | static_cast<uint32_t>(4 * x) << 16 | static_cast<uint32_t>(4 * x + 8));
    std::vector<uint32_t> out(static_cast<size_t>(whole.width * whole.height));
    enlarge(small, kPart, whole, out);
    for (int y = 0; y < whole.height; ++y)
      for (int x = 1; x < whole.width - 1; ++x) {
        const uint32_t pixel = out[static_cast<size_t>(y * whole.width + x)];
        const auto red = static_cast<float>(pixel >> 16 & 0xff), blue = static_cast<float>(pixel & 0xff);
        const float expected = 4 * ((static_cast<float>(x) + 0.5f) / kPart - 0.5f);
        QVERIFY(std::abs(red - expected) <= 0.5f && std::abs(blue - expected - 8) <= 0.5f);
      }
    // with parts of one pixel it is the picture itself
    std::vector<uint32_t> same(small.size());
    enlarge(small, 1, size, same);
    QVERIFY(same == small);
  }
};

JUVENOR_TEST(TestMovingPicture)
}  // namespace juvenor
#include "test_moving_picture.moc"
