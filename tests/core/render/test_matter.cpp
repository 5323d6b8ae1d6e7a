// What skin is made of to light: where it wanders, a film over it, down on it.
#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/fill.h"
#include "core/render/still.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr int kBallEdge = 160;

ChannelValues matter(const EncodedColor& color, std::initializer_list<std::pair<Channel, float>> numbers) {
  ChannelValues out = color;
  for (const auto& [channel, value] : numbers) out[channel] = value;
  return out;
}

// Linear light of a filled ball under surroundings, ray by ray.
std::vector<uint32_t> seen(const ChannelValues& values, const Light& light) {
  const Document ball = test::documentOf(test::sphere(60, 10));
  StillSetting setting;
  setting.size = {kBallEdge, kBallEdge};
  setting.camera.parallel = true;
  setting.camera = framed(setting.camera, setting.size, ball.surface->bounds);
  setting.light = light;
  return *stillOf(withSourceLayer(ball, "Filled", Stratum::Flesh, fillSource(values)), setting);
}
int green(const std::vector<uint32_t>& pixels, int x, int y) {
  return static_cast<int>(pixels[static_cast<size_t>(y * kBallEdge + x)] >> 8 & 0xff);
}
// The rightmost pixel of the middle row that is all sculpt.
int rimOf(const std::vector<uint32_t>& pixels) {
  for (int x = kBallEdge - 1; x > 0; --x)
    if ((pixels[static_cast<size_t>(kBallEdge / 2 * kBallEdge + x)] & 0xffffff) != 0x6c6c6c) return x - 2;
  return 0;
}

Light even(float radiance) {
  Light light;
  light.kind = LightKind::Surroundings;
  light.environment = std::make_shared<const Environment>(
      panoramaOf([=](const Vec3&) { return Vec3(Vec3::Constant(radiance)); }));
  return light;
}

}  // namespace

class TestMatter : public QObject {
  Q_OBJECT
 private slots:
  // Half of a plate lies in the light. Where light does not wander the shadow is as hard as it falls, and no
  // colour comes out of it; in skin red crosses over, in nails as far as the other colours do.
  void whatIsHardKeepsItsLightWhereItFell() {
    const auto surface = test::surfaceOf(test::plane(40, 10));
    const Rays rays(surface, Rays::Quality::Full);
    SurfaceMaps maps(surface);
    std::vector<LitSample> wandered(surface->size());
    std::vector<Lighting::Received::Pointer> received;
    for (size_t c = 0; c < chunkCount(surface->size()); ++c) {
      auto chunk = std::make_shared<Lighting::Received::Chunk>();
      for (size_t i = 0; i < kChunkSize; ++i) (*chunk)[i] = {0.2f, 0.2f, 0.2f};
      received.push_back(chunk);
    }
    for (LitSample& l : wandered)
      l = {Eigen::half(0.6f), Eigen::half(0.2f), Eigen::half(0.1f), Eigen::half(0.f)};
    const auto light = [&](float wander) {
      Document d = test::documentOf(test::plane(40, 10));
      d = withSourceLayer(
          d, "Filled", Stratum::Flesh,
          fillSource(matter({0.7f, 0.7f, 0.7f}, {{Channel::Wander, wander}, {Channel::Gloss, 0.f}})));
      const ChannelFields skin = *skinOf(d.layers, *d.maps, d.bare);
      const ViewSize size{32, 32};
      ShadeInput in;
      in.surface = surface.get();
      in.skin = &skin;
      in.lit = wandered;
      in.received = received;
      in.light.kind = LightKind::Lamps;
      for (Lamp& lamp : in.light.lamps) lamp.on = false;
      in.camera = framed({}, size, surface->bounds);
      VisibilityImage visibility;
      castVisibility(rays, in.camera, size, {0.5f, 0.5f}, {}, visibility);
      std::vector<Vec3> out(32 * 32);
      shadeLight(in, visibility, {0, 0, 32, 32}, out);
      return out[16 * 32 + 16];
    };
    const Vec3 skin = light(1), horn = light(0), nail = light(0.5f);
    QVERIFY(skin.x() > 2 * skin.y() && skin.z() < 0.75f * skin.y());
    QVERIFY(std::abs(horn.x() - horn.y()) < 1e-4f && std::abs(horn.z() - horn.y()) < 1e-4f);
    QVERIFY((nail - 0.5f * (skin + horn)).tail<2>().norm() < 1e-4f);
    QVERIFY2(std::abs(nail.x() - 0.5f * (nail.y() + nail.z())) < 1e-4f,
             qPrintable(QString("%1 %2 %3")
                            .arg(static_cast<double>(nail.x()))
                            .arg(static_cast<double>(nail.y()))
                            .arg(static_cast<double>(nail.z()))));
    // halfway to skin it has half of that
    const Vec3 thin = light(0.75f);
    QVERIFY(std::abs(thin.x() - (horn.x() + 0.75f * 0.5f *
                                                ((skin - horn).x() + 0.5f * (skin - horn).y() +
                                                 0.5f * (skin - horn).z()))) < 1e-4f);
  }
  // In even light nothing is seen of a white ball, whatever lies over it: no light is lost nor made.
  void filmAndDownOnWhiteVanishInEvenLight() {
    constexpr float kRadiance = 0.5f;
    const int expected = static_cast<int>(std::lround(255 * encodeSrgb(kRadiance)));
    for (const float gloss : {0.f, 0.5f, 1.f})
      for (const auto& [coat, fuzz] : {std::pair(1.f, 0.f), {0.f, 1.f}, {0.6f, 0.4f}}) {
        const auto pixels =
            seen(matter({1, 1, 1}, {{Channel::Gloss, gloss}, {Channel::Coat, coat}, {Channel::Fuzz, fuzz}}),
                 even(kRadiance));
        for (const int x : {kBallEdge / 2, kBallEdge / 4, rimOf(pixels)})
          QVERIFY2(std::abs(green(pixels, x, kBallEdge / 2) - expected) <= 3,
                   qPrintable(QString("gloss %1 coat %2 fuzz %3 at %4: %5, not %6")
                                  .arg(static_cast<double>(gloss))
                                  .arg(static_cast<double>(coat))
                                  .arg(static_cast<double>(fuzz))
                                  .arg(x)
                                  .arg(green(pixels, x, kBallEdge / 2))
                                  .arg(expected)));
      }
  }
  // A film over dull skin has a highlight of its own, as small as that of gloss, and the skin stays dull
  // below.
  void aCoatShinesOverDrySkin() {
    Light lamps;
    lamps.kind = LightKind::Lamps;
    const EncodedColor dark{0.2f, 0.2f, 0.2f};
    const auto dry = seen(matter(dark, {{Channel::Gloss, 0.1f}}), lamps),
               wet = seen(matter(dark, {{Channel::Gloss, 0.1f}, {Channel::Coat, 1.f}}), lamps);
    const auto brightest = [](const std::vector<uint32_t>& p) {
      int most = 0;
      for (const uint32_t pixel : p) most = std::max(most, static_cast<int>(pixel >> 8 & 0xff));
      return most;
    };
    QVERIFY2(brightest(wet) > brightest(dry) + 60,
             qPrintable(QString("%1 %2").arg(brightest(wet)).arg(brightest(dry))));
    int brighter = 0, all = 0;
    for (size_t i = 0; i < wet.size(); ++i) {
      if ((dry[i] & 0xffffff) == 0x6c6c6c) continue;
      ++all;
      brighter += (wet[i] >> 8 & 0xff) > (dry[i] >> 8 & 0xff) + 40;
    }
    QVERIFY2(brighter > 5 && brighter < all / 10, qPrintable(QString("%1 of %2").arg(brighter).arg(all)));
  }
  // Down over black shows least where one looks straight at it, most at the rim.
  void downShowsAtTheRim() {
    const auto bare = seen(matter({0, 0, 0}, {{Channel::Gloss, 0.2f}}), even(0.5f)),
               downy = seen(matter({0, 0, 0}, {{Channel::Gloss, 0.2f}, {Channel::Fuzz, 1.f}}), even(0.5f));
    const int y = kBallEdge / 2, rim = rimOf(bare);
    const int middle = green(downy, kBallEdge / 2, y) - green(bare, kBallEdge / 2, y),
              edge = green(downy, rim, y) - green(bare, rim, y);
    QVERIFY2(middle < 60 && edge > middle + 15, qPrintable(QString("%1 %2").arg(middle).arg(edge)));
    // and none where there is none
    const auto none = seen(matter({0, 0, 0}, {{Channel::Gloss, 0.2f}, {Channel::Fuzz, 0.f}}), even(0.5f));
    QCOMPARE(none, bare);
  }
};

JUVENOR_TEST(TestMatter)
}  // namespace juvenor
#include "test_matter.moc"
