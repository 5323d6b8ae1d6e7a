// Bands as live layers: how much skin they take, dying out, rings around a limb, what is worked out anew.
#include "core/layers/sources/patterns.h"
#include "support/covers.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Bands straight(float apart) {
  Bands out;
  out.guides.direction.flow = Vec3::UnitX();
  out.guides.direction.form = 5;
  out.guides.size.size = apart;
  out.wavy = out.uneven = out.broken = 0;
  out.softness = 0;
  out.ramp = {{0, {0.1f, 0.1f, 0.1f}, 1, {}}};
  return out;
}

std::vector<float> coversOf(const Bands& settings, SurfaceMaps& maps, float mask = 1) {
  return test::coversOf(*bandSource(settings), maps, mask);
}

float partOf(const Surface& surface, const std::vector<float>& covers) {
  double sum = 0, area = 0;
  for (size_t s = 0; s < covers.size(); ++s) {
    sum += static_cast<double>(covers[s] * surface.areas[s]);
    area += static_cast<double>(surface.areas[s]);
  }
  return static_cast<float>(sum / area);
}

}  // namespace

class TestBands : public QObject {
  Q_OBJECT
 private slots:
  void takeAsMuchSkinAsAsked() {
    const auto surface = test::surfaceOf(test::plane(300, 30));
    SurfaceMaps maps(surface);
    for (const float width : {0.2f, 0.5f, 0.8f}) {
      Bands bands = straight(3);
      bands.width = width;
      QVERIFY(std::abs(partOf(*surface, coversOf(bands, maps)) - width) < 0.03f);
      // bent and uneven ones take about as much
      bands.wavy = 1;
      bands.uneven = 0.4f;
      const float bent = partOf(*surface, coversOf(bands, maps));
      QVERIFY2(std::abs(bent - width) < 0.12f, qPrintable(QString::number(static_cast<double>(bent))));
      // broken ones less, the more the less
      bands.broken = 0.5f;
      const float half = partOf(*surface, coversOf(bands, maps));
      bands.broken = 1;
      QVERIFY(half < 0.75f * width && half > 0.25f * width);
      QVERIFY(partOf(*surface, coversOf(bands, maps)) < 0.1f * width);
    }
  }

  // Where the mask fades they grow narrow and do not just pale.
  void dyingOutTheyGrowNarrow() {
    const auto surface = test::surfaceOf(test::plane(300, 30));
    SurfaceMaps maps(surface);
    Bands bands = straight(3);
    bands.width = 0.6f;
    const auto half = coversOf(bands, maps, 0.5f);
    QVERIFY(std::abs(partOf(*surface, half) - 0.3f) < 0.03f);
    QCOMPARE(std::ranges::max(half), 1.f);
    QCOMPARE(std::ranges::max(coversOf(bands, maps, 0)), 0.f);
  }

  // With the main curvatures alone to go by, a limb gets rings: samples of one height are covered alike.
  void goAroundALimb() {
    const auto surface = test::surfaceOf(test::cylinder(120, 6, 40));
    SurfaceMaps maps(surface);
    Bands bands = straight(4);
    bands.guides.direction.flow = Vec3(0.2f, -1, 0.1f).normalized();
    bands.guides.direction.curvature = 1;
    const auto covers = coversOf(bands, maps);
    std::map<int, std::pair<float, float>> byHeight;
    for (size_t s = 0; s < covers.size(); ++s) {
      auto& [sum, count] = byHeight[static_cast<int>(std::lround(surface->positions[s].y() * 100))];
      sum += covers[s];
      count += 1;
    }
    double mixed = 0;
    for (const auto& [height, told] : byHeight) {
      const double mean = static_cast<double>(told.first / told.second);
      mixed += std::min(mean, 1 - mean);
    }
    QVERIFY2(mixed / static_cast<double>(byHeight.size()) < 0.08,
             qPrintable(QString::number(mixed / static_cast<double>(byHeight.size()))));
    // turned by a right angle they run along it
    bands.guides.direction.turn = 90;
    const auto along = coversOf(bands, maps);
    std::map<int, std::pair<float, float>> byAngle;
    for (size_t s = 0; s < along.size(); ++s) {
      const Vec3& p = surface->positions[s];
      auto& [sum, count] = byAngle[static_cast<int>(std::lround(std::atan2(p.x(), p.z()) * 19.0985931f))];
      sum += along[s];
      count += 1;
    }
    mixed = 0;
    for (const auto& [angle, told] : byAngle) {
      const double mean = static_cast<double>(told.first / told.second);
      mixed += std::min(mean, 1 - mean);
    }
    QVERIFY2(mixed / static_cast<double>(byAngle.size()) < 0.2,
             qPrintable(QString::number(mixed / static_cast<double>(byAngle.size()))));
  }

  void bringWhatTheyAreSetTo() {
    SurfaceMaps maps(test::surfaceOf(test::plane(100, 10)));
    Bands bands = straight(2);
    QVERIFY((*bandSource(bands)->prepare(maps))->channels() == Channel::Color);
    bands.glossCover = 0.5f;
    bands.gloss = 0.8f;
    bands.height = 0.1f;
    const auto made = *bandSource(bands)->prepare(maps);
    QVERIFY(made->channels() == (ChannelSet(Channel::Color) | Channel::Gloss | Channel::Relief));
    float highest = 0, gloss = 0, cover = 0;
    for (size_t c = 0; c < chunkCount(maps.size()); ++c) {
      const auto heights = made->heights(Channel::Relief, c);
      const auto covers = made->covers(Channel::Gloss, c);
      for (size_t i = 0; i < kChunkSize; ++i) {
        highest = std::max(highest, heightOf(heights->plane[0][i], maps.reliefStep()));
        gloss = std::max(gloss, from16(covers->plane[0][i]));
        cover = std::max(cover, from16(covers->plane[1][i]));
      }
    }
    QVERIFY(highest > 0.085f && highest < 0.1f + maps.reliefStep());
    QVERIFY(std::abs(cover - 0.5f) < 1e-3f && std::abs(gloss - 0.4f) < 1e-3f);
    QVERIFY(made->covers(Channel::Metal, 0) == nullptr);
  }

  void looksAreCheapAndParametersComeBack() {
    SurfaceMaps maps(test::surfaceOf(test::plane(100, 10)));
    Bands bands = straight(2);
    const auto first = *bandSource(bands)->prepare(maps);
    bands.wavy = 0.7f;
    bands.grain = 3;
    QVERIFY(bandSource(bands)->isReady(maps));
    std::vector<char> marks(chunkCount(maps.size()), 0);
    QVERIFY(!(*bandSource(bands)->prepare(maps))->markChanges(Channel::Color, *first, marks));
    bands.guides.size.size = 3;
    QVERIFY(!bandSource(bands)->isReady(maps));
    const auto back = makeSource("bands", bandSource(bands)->parameters(), 10);
    QVERIFY(back && *bandsOf(**back) == bands);
    QVERIFY(makeSource("bands", {{"widht", 0.2}}, 10).error().what.find("width") != std::string::npos);
    QVERIFY(makeSource("bands", {{"stops", {{{"at", 0}, {"metal", 1}}}}}, 10)
                .error()
                .what.find("colours alone") != std::string::npos);
  }
};

JUVENOR_TEST(TestBands)
}  // namespace juvenor
#include "test_bands.moc"
