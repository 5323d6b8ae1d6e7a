// Relief finer than a pixel: one look at its means is about the mean of many looks (Toksvig 2005, against the
// picture with a ray for every sample).
#include <random>

#include "core/layers/composite/composite.h"
#include "core/render/picture.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr int kCells = 512, kSmall = 64;

struct BumpyPlate {
  std::shared_ptr<const Surface> surface = test::surfaceOf(test::plane(kCells, 10));
  Rays rays{surface, Rays::Quality::Full};
  ChannelFields skin = *skinOf(LayerStack{}, *std::make_unique<SurfaceMaps>(surface), EncodedColor{0, 0, 0});
  ReliefNormals relief;
  std::vector<LitSample> lit;
  Light light;

  BumpyPlate() {
    ScalarField heights(surface->size());
    std::mt19937 random(5);
    std::normal_distribution<float> bump(0, 200);
    for (size_t c = 0; c < chunkCount(surface->size()); ++c) {
      auto chunk = std::make_shared<ScalarChunk>();
      for (uint16_t& v : chunk->plane[0])
        v = static_cast<uint16_t>(std::clamp(static_cast<float>(kLevel) + bump(random), 0.f, 65535.f));
      heights.setChunk(c, std::move(chunk));
    }
    relief = reliefNormals(surface, heights, kLevel, 1e-5f);
    lit.assign(surface->size(), {});
    light.kind = LightKind::Lamps;
    light.dial = 0;
    for (Lamp& lamp : light.lamps) lamp.on = false;
    light.lamps[0] = {true, 10, 10, 1, 6, 6500};
  }
  std::vector<Vec3> seen(int edge, Camera camera) const {
    const ViewSize size{edge, edge};
    camera.parallel = true;
    camera.fieldOfView = 28;
    ShadeInput in;
    in.surface = surface.get();
    in.skin = &skin;
    in.relief = &relief;
    in.lit = lit;
    in.view = View::Skin;
    in.light = light;
    in.camera = camera;
    VisibilityImage visibility;
    castVisibility(rays, camera, size, {0.5f, 0.5f}, {}, visibility);
    std::vector<Vec3> out(static_cast<size_t>(edge) * static_cast<size_t>(edge));
    shadeLight(in, visibility, {0, 0, edge, edge}, out);
    return out;
  }
};

}  // namespace

class TestFineRelief : public QObject {
  Q_OBJECT
 private slots:
  void onePixelIsTheMeanOfWhatLiesInIt() {
    const BumpyPlate plate;
    Camera camera;
    // the middle of the plate fills the picture
    camera.distance = 8 / (2 * std::tan(14 * static_cast<float>(M_PI) / 180));
    constexpr int kTimes = 16;
    const auto fine = plate.seen(kSmall * kTimes, camera), coarse = plate.seen(kSmall, camera);
    double off = 0, plain = 0, mean = 0, meanCoarse = 0;
    for (int y = 0; y < kSmall; ++y)
      for (int x = 0; x < kSmall; ++x) {
        double truth = 0;
        for (int dy = 0; dy < kTimes; ++dy)
          for (int dx = 0; dx < kTimes; ++dx)
            truth += static_cast<double>(
                fine[static_cast<size_t>((y * kTimes + dy) * kSmall * kTimes + x * kTimes + dx)].x());
        truth /= kTimes * kTimes;
        const auto one = static_cast<double>(
            fine[static_cast<size_t>((y * kTimes + kTimes / 2) * kSmall * kTimes + x * kTimes + kTimes / 2)]
                .x());
        const auto by = static_cast<double>(coarse[static_cast<size_t>(y * kSmall + x)].x());
        off += std::abs(by - truth);
        plain += std::abs(one - truth);
        mean += truth;
        meanCoarse += by;
      }
    const double count = kSmall * kSmall;
    const QString told = QString("mean %1 against %2; off %3, a single ray %4")
                             .arg(meanCoarse / count)
                             .arg(mean / count)
                             .arg(off / count)
                             .arg(plain / count);
    QVERIFY2(off < 0.5 * plain, qPrintable(told));
    QVERIFY2(std::abs(meanCoarse / mean - 1) < 0.15, qPrintable(told));
  }
};

JUVENOR_TEST(TestFineRelief)
}  // namespace juvenor
#include "test_fine_relief.moc"
