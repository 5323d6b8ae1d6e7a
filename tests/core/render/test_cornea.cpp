// Looks through a clear skin: Snell's and Fresnel's laws and Gauss' single refracting surface in closed form.
#include "core/render/cornea.h"

#include <cmath>

#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/eyes.h"
#include "core/render/still.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr float kDegree = static_cast<float>(M_PI) / 180;

Vec3 leaning(float degrees) {
  return {std::sin(degrees * kDegree), 0, -std::cos(degrees * kDegree)};
}

// A ball whose skin is black where its iris would have a pupil, white elsewhere, and the picture of it from a
// side; the number of its dark pixels, and where their middle is from that of the picture, in ball radii.
struct SeenPupil {
  int dark = 0;
  float aside = 0;
};
struct PaintedBall {
  static constexpr float kBall = 12, kPupil = 2.4f;
  std::shared_ptr<const Surface> surface = test::surfaceOf(test::sphere(360, kBall));
  Rays rays{surface, Rays::Quality::Full};
  ChannelFields skin = *skinOf(LayerStack{}, *std::make_unique<SurfaceMaps>(surface), EncodedColor{1, 1, 1});
  std::vector<LitSample> lit;
  Cornea cornea{0, Vec3::Zero(), Vec3::UnitZ(), kBall, 5.9f, irisPlane(kBall, 5.9f, 0.5f)};

  PaintedBall() {
    for (size_t s = 0; s < surface->size(); ++s) {
      const Vec3& p = surface->positions[s];
      if (p.z() > 0 && p.head<2>().norm() < kPupil) {
        auto chunk = std::make_shared<ColorChunk>(*skin.color().chunk(s / kChunkSize));
        setSample(*chunk, s % kChunkSize, opaque16({0, 0, 0}));
        skin.get<Channel::Color>().setChunk(s / kChunkSize, chunk);
      }
    }
    lit.assign(surface->size(), {Eigen::half(1.f), Eigen::half(1.f), Eigen::half(1.f), Eigen::half(1.f)});
  }
  SeenPupil seen(float degrees, bool through) const {
    const ViewSize size{600, 600};
    ShadeInput in;
    in.surface = surface.get();
    in.skin = &skin;
    in.lit = lit;
    in.view = View::Skin;
    in.light.kind = LightKind::Lamps;  // a dark room: nothing bright is mirrored
    for (Lamp& lamp : in.light.lamps) lamp.on = false;
    in.camera.parallel = true;
    in.camera = framed(turned(in.camera, Vec2(degrees / kDegreesPerPixel, 0)), size, surface->bounds);
    in.rays = &rays;
    if (through) in.corneas = std::span(&cornea, 1);
    const auto pixels = picture(rays, in, size, {}, 1);
    SeenPupil out;
    double sum = 0;
    for (int i = 0; i < 600 * 600; ++i)
      if ((pixels[static_cast<size_t>(i)] >> 8 & 0xff) < 0x60) {
        ++out.dark;
        sum += i % 600 + 0.5 - 300;
      }
    out.aside =
        static_cast<float>(sum / std::max(1, out.dark)) / (pixelsPerUnit(in.camera, size, {0, 0, 0}) * kBall);
    return out;
  }
};

}  // namespace

class TestCornea : public QObject {
  Q_OBJECT
 private slots:
  void lightBendsAsSnellSays() {
    for (float degrees = 0; degrees < 90; degrees += 7.5f) {
      const auto in = refracted(leaning(degrees), Vec3::UnitZ(), 1 / kCorneaIndex);
      QVERIFY(in && std::abs(in->norm() - 1) < 1e-5f);
      QVERIFY(std::abs(in->x() - std::sin(degrees * kDegree) / kCorneaIndex) < 1e-5f && in->z() < 0);
      const auto back = refracted(*in, Vec3::UnitZ(), kCorneaIndex);
      QVERIFY(back && (*back - leaning(degrees)).norm() < 2e-3f);
    }
    // from within, beyond arcsin(1 / 1.376) = 46.6°, nothing comes out
    QVERIFY(refracted(leaning(46), Vec3::UnitZ(), kCorneaIndex));
    QVERIFY(!refracted(leaning(47), Vec3::UnitZ(), kCorneaIndex));
  }
  void fresnelAtItsKnownAngles() {
    QVERIFY(std::abs(kCorneaReflectance - 0.02504f) < 1e-4f);
    QVERIFY(std::abs(fresnelOf(1, kCorneaIndex).mean() - kCorneaReflectance) < 1e-6f);
    // Brewster's angle is the arctangent of the index: 53.99°
    const float brewster = std::cos(std::atan(kCorneaIndex));
    QVERIFY(fresnelOf(brewster, kCorneaIndex).along < 1e-9f);
    QVERIFY(fresnelOf(brewster, kCorneaIndex).across > 0.05f);
    QVERIFY(std::abs(fresnelOf(0, kCorneaIndex).mean() - 1) < 1e-5f);
    // what the shader uses in its place (Schlick 1994) is never off by more than seven hundredths
    for (float cosine = 0.02f; cosine <= 1; cosine += 0.02f) {
      const float x = 1 - cosine;
      const float schlick = kCorneaReflectance + (1 - kCorneaReflectance) * std::pow(x, 5.f);
      QVERIFY(std::abs(schlick - fresnelOf(cosine, kCorneaIndex).mean()) < 0.07f);
    }
  }
  // Seen from far ahead a single refracting surface of radius r shows what lies d behind its vertex
  // 1 / (1 − d (n − 1) / (n r)) as large: 1.12 for an eye of 7.8 and 3.05 mm, which physiological optics
  // gives as about 1.13 (from memory).
  void aPupilLooksAsLargeAsACorneaMakesIt() {
    constexpr float kRadius = 7.8f, kDepth = 3.05f, kAside = 0.05f;
    const Cornea eye{0, Vec3::Zero(), Vec3::UnitZ(), kRadius, 5.9f, kRadius - kDepth};
    const Vec3 at(kAside, 0, std::sqrt(kRadius * kRadius - kAside * kAside));
    const Vec3 behind = irisSeen(eye, at, at / kRadius, Vec3::UnitZ());
    const float expected = 1 / (1 - kDepth * (kCorneaIndex - 1) / (kCorneaIndex * kRadius));
    QVERIFY(std::abs(expected - 1.1196f) < 1e-3f);
    QVERIFY2(std::abs(kAside / behind.x() - expected) < 2e-3f,
             qPrintable(QString::number(kAside / behind.x())));
    QVERIFY(std::abs(behind.z()) < 1e-5f);
  }
  void pupilsOfPicturesAreLargerAndLieDeeper() {
    const PaintedBall ball;
    const SeenPupil bare = ball.seen(0, false), through = ball.seen(0, true);
    const float depth = PaintedBall::kBall - ball.cornea.plane;
    const float times = 1 / (1 - depth * (kCorneaIndex - 1) / (kCorneaIndex * PaintedBall::kBall));
    QVERIFY(bare.dark > 1000);
    QVERIFY2(
        std::abs(static_cast<float>(through.dark) / static_cast<float>(bare.dark) / (times * times) - 1) <
            0.03f,
        qPrintable(QString("%1 %2 %3").arg(through.dark).arg(bare.dark).arg(static_cast<double>(times))));
    // from the side what lies deeper is nearer to the middle of the ball
    const SeenPupil turned = ball.seen(40, false), inside = ball.seen(40, true);
    QVERIFY(std::abs(turned.aside) > 0.5f);
    QVERIFY2(
        std::abs(inside.aside) < 0.97f * std::abs(turned.aside) && inside.aside * turned.aside > 0,
        qPrintable(
            QString("%1 %2").arg(static_cast<double>(inside.aside)).arg(static_cast<double>(turned.aside))));
    QVERIFY(inside.dark > turned.dark / 2);
  }
  void whatIsCorneaEndsAtTheRim() {
    const Cornea eye{2, {1, 2, 3}, Vec3::UnitX(), 10, 6, irisPlane(10, 6, 0)};
    const auto at = [&](float aside) {
      return corneaAt(eye, 2, eye.center + Vec3(std::sqrt(100 - aside * aside), 0, aside));
    };
    QCOMPARE(at(0), 1.f);
    QCOMPARE(at(5.9f), 1.f);
    QVERIFY(at(6.2f) > 0 && at(6.2f) < 1);
    QCOMPARE(at(7), 0.f);
    QCOMPARE(corneaAt(eye, 1, eye.center + Vec3(10, 0, 0)), 0.f);
    QCOMPARE(corneaAt(eye, 2, eye.center - Vec3(10, 0, 0)), 0.f);
    QVERIFY(std::abs(eye.plane - 8) < 1e-5f);
    // at the rim the disc meets the skin: nothing jumps there
    const Vec3 rim = eye.center + Vec3(8, 0, 6), normal = (rim - eye.center) / 10;
    QVERIFY((irisSeen(eye, rim, normal, Vec3::UnitX()) - Vec3(0, 0, 6)).norm() < 0.02f);
    QVERIFY((paintedBefore(eye, {0, 0, 6}) - normal).norm() < 1e-5f);
  }
  void eyesThatAreSeenHaveCorneas() {
    Eyes eyes;
    eyes.balls = {{3, {0, 1, 2}, 11, Vec3::UnitZ(), Vec3::UnitY(), 4},
                  {4, {5, 1, 2}, 11, Vec3::UnitZ(), Vec3::UnitY(), 5}};
    Document d = test::documentOf(test::sphere(20, 10));
    d = withSourceLayer(d, "Eyes", Stratum::Flesh, eyeSource(eyes));
    auto found = corneasOf(d.layers);
    QCOMPARE(found.size(), size_t{2});
    QVERIFY(found[1].part == 4 && found[1].center == Vec3(5, 1, 2) && found[1].iris == eyes.iris);
    QCOMPARE(found[0].plane, irisPlane(11, eyes.iris, eyes.recess));
    LayerChange hidden;
    hidden.visible = false;
    QVERIFY(corneasOf(withLayerChanged(d, d.activeLayer, hidden)->layers).empty());
    LayerChange thin;
    thin.opacity = 0.3f;
    QVERIFY(corneasOf(withLayerChanged(d, d.activeLayer, thin)->layers).empty());
  }
};

JUVENOR_TEST(TestCornea)
}  // namespace juvenor
#include "test_cornea.moc"
