// Fine skin as a live layer: its mean gloss, lines across the pull, pores by region, what is said and shown
// where points are too few, the same at any density.
#include "core/layers/sources/patterns.h"
#include "support/covers.h"
#include "support/heights.h"
#include "support/made.h"
#include "support/run_all.h"
#include "support/sanitized.h"

namespace juvenor {
namespace {

// Pulled along x; cells a unit wide on a plane of `size`.
FineSkin skinOn(float size = 1) {
  FineSkin out;
  out.guides.direction.flow = Vec3::UnitX();
  out.guides.direction.form = 5;
  out.guides.direction.curvature = 0;
  out.guides.size.size = size;
  out.depth = 0.1f;
  return out;
}

float meanOf(const std::vector<float>& values) {
  double sum = 0;
  for (const float v : values) sum += static_cast<double>(v);
  return static_cast<float>(sum / static_cast<double>(values.size()));
}

// How much heights change along x, and along y, per step.
std::array<float, 2> roughness(const Surface& surface, const std::vector<float>& heights) {
  std::array<double, 2> sums{}, counts{};
  for (uint32_t s = 0; s < surface.size(); ++s)
    for (const uint32_t n : surface.neighborsOf(s)) {
      const Vec3 step = (surface.positions[n] - surface.positions[s]).normalized();
      const double change = static_cast<double>(heights[n] - heights[s]);
      for (int k = 0; k < 2; ++k)
        if (std::abs(step[k]) > 0.95f) {
          sums[static_cast<size_t>(k)] += change * change;
          ++counts[static_cast<size_t>(k)];
        }
    }
  return {static_cast<float>(std::sqrt(sums[0] / counts[0])),
          static_cast<float>(std::sqrt(sums[1] / counts[1]))};
}

// Of the samples the part that lies deeper than lines alone go.
float poresIn(const std::vector<float>& heights, const Surface& surface, float fromX, float toX,
              float depth) {
  size_t deep = 0, all = 0;
  for (size_t s = 0; s < heights.size(); ++s) {
    if (surface.positions[s].x() < fromX || surface.positions[s].x() > toX) continue;
    ++all;
    if (heights[s] < -1.15f * depth) ++deep;
  }
  return static_cast<float>(deep) / static_cast<float>(all);
}

}  // namespace

class TestFineSkin : public QObject {
  Q_OBJECT
 private slots:
  // The closed form of the mean (lines, discs and folds over even cells) is what the look comes to.
  void glossIsOnAverageWhatIsAsked() {
    SurfaceMaps maps(test::surfaceOf(test::plane(400, 40)));
    for (const float sheen : {0.1f, 0.5f})
      for (const float pores : {0.f, 0.5f, 1.f}) {
        FineSkin skin = skinOn();
        skin.gloss = 0.5f;
        skin.sheen = sheen;
        skin.pores = pores;
        const auto gloss = test::glossOf(**fineSkinSource(skin)->prepare(maps), maps);
        QVERIFY2(std::abs(meanOf(gloss) - 0.5f) < 0.06f * sheen,
                 qPrintable(QString("%1 %2 %3").arg(sheen).arg(pores).arg(meanOf(gloss))));
        QVERIFY(std::ranges::max(gloss) > 0.5f + 0.05f * sheen);
        QVERIFY(std::ranges::min(gloss) < 0.5f - 0.2f * sheen);
      }
  }

  // Lozenges are longer across the pull: along it one meets more lines.
  void linesLieAcrossThePull() {
    const auto surface = test::surfaceOf(test::plane(300, 30));
    SurfaceMaps maps(surface);
    FineSkin skin = skinOn();
    skin.pores = 0;
    skin.creases = 0;
    skin.stretch = 2.4f;
    auto rough = roughness(*surface, test::heightsOf(**fineSkinSource(skin)->prepare(maps), maps));
    QVERIFY2(rough[0] > 1.3f * rough[1], qPrintable(QString("%1 %2").arg(rough[0]).arg(rough[1])));
    // and pulled the other way it is the other way round
    skin.guides.direction.flow = Vec3::UnitY();
    rough = roughness(*surface, test::heightsOf(**fineSkinSource(skin)->prepare(maps), maps));
    QVERIFY2(rough[1] > 1.3f * rough[0], qPrintable(QString("%1 %2").arg(rough[0]).arg(rough[1])));
    // folds alone run across it too
    skin.lines = 0;
    skin.creases = 1;
    rough = roughness(*surface, test::heightsOf(**fineSkinSource(skin)->prepare(maps), maps));
    QVERIFY2(rough[1] > 2 * rough[0], qPrintable(QString("%1 %2").arg(rough[0]).arg(rough[1])));
  }

  void reliefIsAsDeepAsAsked() {
    SurfaceMaps maps(test::surfaceOf(test::plane(300, 30)));
    FineSkin skin = skinOn();
    skin.pores = skin.creases = 0;
    skin.lines = 1;
    const auto heights = test::heightsOf(**fineSkinSource(skin)->prepare(maps), maps);
    QVERIFY(std::ranges::min(heights) < -0.85f * skin.depth &&
            std::ranges::min(heights) > -1.02f * skin.depth);
    QVERIFY(std::ranges::max(heights) > 0.2f * skin.depth && std::ranges::max(heights) < 0.4f * skin.depth);
  }

  void poresAreAsManyAsTheRegionHas() {
    const auto surface = test::surfaceOf(test::plane(300, 30));
    SurfaceMaps maps(surface);
    FineSkin skin = skinOn();
    skin.creases = 0;
    skin.pores = 0.4f;
    HueZone zone;
    zone.anchor = Vec3(15, 0, 0);
    zone.mirrored = false;
    zone.reach = 60;
    zone.strength = 1;
    zone.softness = 0;
    zone.breakUp = 0;
    const auto poresLike = [&](std::string_view like) {
      FineSkin next = skin;
      zone.like = like;
      if (!like.empty()) next.regions = {zone};
      const auto heights = test::heightsOf(**fineSkinSource(next)->prepare(maps), maps);
      return poresIn(heights, *surface, -1e9f, 1e9f, skin.depth);
    };
    const float usual = poresLike({}), cheek = poresLike("cheek");
    QVERIFY2(usual > 0.005f && cheek > 1.4f * usual, qPrintable(QString("%1 %2").arg(usual).arg(cheek)));
    QVERIFY(poresLike("lip") < 0.1f * usual);
    QVERIFY(poresLike("neck") < 0.6f * usual);
  }

  // Too few points: nothing but the mean, and it is said.
  void whereThereAreTooFewPointsItSaysSo() {
    SurfaceMaps maps(test::surfaceOf(test::plane(60, 30)));  // half a unit apart
    FineSkin skin = skinOn(1);
    skin.gloss = 0.37f;
    const auto made = *fineSkinSource(skin)->prepare(maps);
    QVERIFY(made->note().find("Points are too few") == 0);
    for (const float g : test::glossOf(*made, maps)) QVERIFY(std::abs(g - 0.37f) < 1e-3f);
    for (const float h : test::heightsOf(*made, maps)) QCOMPARE(h, 0.f);
    for (const float c : test::coversOf(*fineSkinSource(skin), maps)) QCOMPARE(c, 0.f);
    // larger it is all there
    const auto large = *fineSkinSource(skinOn(3))->prepare(maps);
    QVERIFY(large->note().empty());
    QVERIFY(std::ranges::min(test::heightsOf(*large, maps)) < -0.05f);
  }

  void isTheSameAtAnyDensity() {
    std::array<float, 3> deviations{}, covers{};
    for (size_t i = 0; i < 3; ++i) {
      SurfaceMaps maps(
          test::surfaceOf(test::plane(200 + (test::kSanitized ? 60 : 150) * static_cast<int>(i), 30)));
      const auto source = fineSkinSource(skinOn(1.2f));
      const auto heights = test::heightsOf(**source->prepare(maps), maps);
      const float mean = meanOf(heights);
      for (const float h : heights)
        deviations[i] += (h - mean) * (h - mean) / static_cast<float>(heights.size());
      covers[i] = meanOf(test::coversOf(*source, maps));
    }
    QVERIFY2(std::abs(deviations[1] / deviations[2] - 1) < 0.12f,
             qPrintable(QString("%1 %2").arg(deviations[1]).arg(deviations[2])));
    QVERIFY(std::abs(covers[1] / covers[2] - 1) < 0.1f && std::abs(covers[0] / covers[2] - 1) < 0.2f);
  }

  void diesOutWhereTheMaskFades() {
    SurfaceMaps maps(test::surfaceOf(test::plane(200, 20)));
    const auto source = fineSkinSource(skinOn());
    const float whole = meanOf(test::coversOf(*source, maps)),
                half = meanOf(test::coversOf(*source, maps, 0.5f));
    QVERIFY(half > 0.2f * whole && half < 0.6f * whole);
    QCOMPARE(std::ranges::max(test::coversOf(*source, maps, 0)), 0.f);
  }

  void parametersComeBack() {
    FineSkin skin = skinOn(1.3f);
    skin.stretch = 2;
    skin.pores = 0.9f;
    skin.seed = 12;
    HueZone zone;
    zone.name = "Chin";
    zone.like = "palm";
    skin.regions = {zone};
    skin.guides.soothed = {{{Vec3(1, 2, 0)}, 0, 3, 0.5f}};
    skin.guides.size.pushed = {{{Vec3(1, 2, 0), Vec3(4, 2, 0)}, 0, 3, -0.5f}};
    const auto source = fineSkinSource(skin);
    const auto again = makeSource("fineskin", source->parameters(), 10);
    QVERIFY(again && *fineSkinOf(**again) == skin);
    auto wrong = source->parameters();
    wrong["regions"][0]["like"] = "wood";
    const auto refused = makeSource("fineskin", wrong, 10);
    QVERIFY(!refused && refused.error().what.find("wood") != std::string::npos);
  }
};

JUVENOR_TEST(TestFineSkin)
}  // namespace juvenor
#include "test_fine_skin.moc"
