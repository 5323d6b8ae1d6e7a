// Light that wanders in skin at two densities of points.
#include "core/color/lab.h"
#include "core/document/document.h"
#include "core/render/picture.h"
#include "core/render/wandering_light.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {

class TestDensityReference : public QObject {
  Q_OBJECT
 private slots:
  // Waves of skin under hard light with stripes of shadow: the same picture whether 0.3 M or 2 M points carry
  // it.
  void thePictureDoesNotDependOnTheDensityOfPoints() {
    std::vector<uint32_t> pictures[2];
    const ViewSize size{480, 480};
    for (const int fine : {0, 1}) {
      Sculpt sculpt = test::plane(fine ? 1414 : 548, 100);
      for (Vec3& v : sculpt.vertices) v.z() = 4 * std::sin(v.x() / 7) * std::cos(v.y() / 9);
      const auto surface = test::surfaceOf(sculpt);
      SurfaceMaps maps(surface);
      std::vector<ReceivedLight> hard(surface->size());
      for (size_t s = 0; s < hard.size(); ++s) {
        const Vec3& p = surface->positions[s];
        const float falls = std::max(0.f, surface->normals[s].dot(Vec3(0.8f, 0.1f, 0.59f)));
        hard[s].fill(std::fmod(p.y() + 200, 25.f) < 12 ? falls : 0);
      }
      const auto spread = wandered(maps.ladder(), hard, 1, 1);
      QVERIFY(spread);
      std::vector<LitSample> lit(hard.size());
      for (size_t s = 0; s < lit.size(); ++s)
        for (size_t c = 0; c < 3; ++c) lit[s][c] = Eigen::half((*spread)[s][c]);
      ChannelFields skin(surface->size());
      auto chunk = std::make_shared<ColorChunk>();
      for (size_t i = 0; i < kChunkSize; ++i) setSample(*chunk, i, {40000, 30000, 26000, 65535});
      for (size_t c = 0; c < skin.color().chunkCount(); ++c) skin.color().setChunk(c, chunk);
      ShadeInput input;
      input.surface = surface.get();
      input.skin = &skin;
      input.lit = lit;
      input.camera = framed({}, size, surface->positions);
      pictures[fine] = picture(**maps.rays(), input, size, {}, 4);
    }
    const auto labOf = [](uint32_t p) {
      const auto byte = [&](int shift) { return static_cast<float>(p >> shift & 0xff) / 255; };
      return toLab(EncodedColor{byte(16), byte(8), byte(0)});
    };
    double sum = 0, count = 0, contrast = 0;
    for (size_t i = 0; i < pictures[0].size(); ++i) {
      if (pictures[0][i] == ShadeInput().background) continue;
      const Lab coarse = labOf(pictures[0][i]), fine = labOf(pictures[1][i]);
      sum += deltaE2000(coarse, fine);
      contrast = std::max(contrast, std::abs(static_cast<double>(fine.l) - 40));
      ++count;
    }
    QVERIFY(count > 50'000 && contrast > 20);  // there is something to tell apart
    QVERIFY2(sum / count < 1, qPrintable(QString::number(sum / count)));
  }
};

JUVENOR_TEST(TestDensityReference)
}  // namespace juvenor

#include "test_density_reference.moc"
