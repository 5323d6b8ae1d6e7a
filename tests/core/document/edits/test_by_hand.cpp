// Patterns worked on by hand: what strokes do to size and relief, what presses do to single scales, and that
// all of it goes with the sculpt, the file and the points.
#include "core/document/edits/edits.h"
#include "core/document/store/state_json.h"
#include "core/layers/sources/moved_skin.h"
#include "core/layers/sources/patterns.h"
#include "core/surface/build/search.h"
#include "support/covers.h"
#include "support/heights.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Document withScales(int cells = 160) {
  const Document plain = test::documentOf(test::plane(cells, 16));
  Scales scales;
  scales.guides.direction.form = 3;
  scales.guides.size.size = 1;
  scales.depth = 0.1f;
  return withSourceLayer(plain, "Scales", Stratum::Surface, scaleSource(scales));
}

const Guides& guidesOf(const Document& d) {
  return *layerOf(d, d.activeLayer)->source->guides();
}

uint32_t sampleAt(const Document& d, const Vec3& place) {
  return *nearestSample(*d.surface, place, 1);
}

SkinStroke acrossTheMiddle(float strength) {
  return {{Vec3(-3, 0, 0), Vec3(3, 0, 0)}, 0, 4, strength};
}

// The opaque colour of each sample as one number.
std::vector<float> tonesOf(const Document& d) {
  const auto made = *layerOf(d, d.activeLayer)->source->prepare(*d.maps);
  const auto below = std::make_unique<ColorChunk>();
  std::vector<float> out;
  for (size_t c = 0; c < chunkCount(d.maps->size()); ++c) {
    const auto colors = made->colors(c, *below);
    for (size_t i = 0; i < std::min(kChunkSize, d.maps->size() - c * kChunkSize); ++i)
      out.push_back(colors->plane[3][i] ? static_cast<float>(colors->plane[0][i]) / colors->plane[3][i] : -1);
  }
  return out;
}

}  // namespace

class TestByHand : public QObject {
  Q_OBJECT
 private slots:
  void sizeIsPushedUpAndDown() {
    const Document d = withScales();
    for (const float strength : {1.f, -0.5f}) {
      const auto pushed = withSizePushed(d, d.activeLayer, acrossTheMiddle(strength));
      QVERIFY(pushed);
      const auto sizes = *wishedSizes(*d.maps, guidesOf(*pushed).size);
      QVERIFY(std::abs(sizes[sampleAt(d, {0, 0, 0})] - std::exp2(strength)) < 0.02f);
      QCOMPARE(sizes[sampleAt(d, {0, 5, 0})], 1.f);
      // between middle and rim it is between both
      const float half = sizes[sampleAt(d, {0, 1, 0})];
      QVERIFY(half > std::min(1.f, std::exp2(strength)) && half < std::max(1.f, std::exp2(strength)));
    }
    // strokes add up, to four times and no further
    Document more = d;
    for (int i = 0; i < 5; ++i) more = *withSizePushed(more, d.activeLayer, acrossTheMiddle(1));
    QVERIFY(std::abs((*wishedSizes(*d.maps, guidesOf(more).size))[sampleAt(d, {0, 0, 0})] - 4) < 0.05f);
  }

  // A stroke does as much as the pen presses, between the places as between their pressures; files keep it.
  void aPenPressesMoreOrLess() {
    const Document d = withScales();
    SkinStroke stroke = acrossTheMiddle(1);
    stroke.pressures = {0.2f, 0.8f};
    const Document pushed = *withSizePushed(d, d.activeLayer, stroke);
    const auto sizes = *wishedSizes(*d.maps, guidesOf(pushed).size);
    for (const auto& [x, pressure] : {std::pair(-2.9f, 0.21f), {0.f, 0.5f}, {2.9f, 0.79f}})
      QVERIFY(std::abs(std::log2(sizes[sampleAt(d, {x, 0, 0})]) - pressure) < 0.03f);
    const auto read = strokesFrom(toJson(std::vector{stroke}), "stroke", {1, -1});
    QVERIFY(read && read->front() == stroke);
    for (const char* wrong :
         {R"([{"places": [[0,0,0]], "pressures": [0.5, 1]}])", R"([{"places": [[0,0,0]], "pressures": [2]}])",
          R"([{"places": [[0,0,0]], "pressures": ["hard"]}])"})
      QVERIFY(!strokesFrom(nlohmann::json::parse(wrong), "stroke", {1, -1}));
  }

  // Out to nothing, and back where there was none, by as much as the stroke is strong.
  void patternsAreLaidAndThinned() {
    const Document d = withScales();
    QVERIFY(!withPatternLaid(d, d.activeLayer, acrossTheMiddle(1)));
    const Document thinned = *withPatternLaid(d, d.activeLayer, acrossTheMiddle(-0.5f));
    const auto shown = [&](const Document& of, const Vec3& place) {
      return from16(layerOf(of, of.activeLayer)->mask->at(sampleAt(of, place))[0]);
    };
    QVERIFY(std::abs(shown(thinned, {0, 0, 0}) - 0.5f) < 0.01f);
    QCOMPARE(shown(thinned, {0, 5, 0}), 1.f);
    const Document none = *withInvertedMask(*withMask(d, d.activeLayer), d.activeLayer);
    SkinStroke aside = acrossTheMiddle(1);
    for (Vec3& place : aside.places) place += Vec3(0, 4, 0);
    const Document laid = *withPatternLaid(none, d.activeLayer, aside, {false, true, false});
    for (const float y : {4.f, -4.f}) QVERIFY(shown(laid, {0, y, 0}) > 0.98f);
    QCOMPARE(shown(laid, {0, 0, 0}), 0.f);
    // what it brings follows the mask, and the layer before is as it was
    const auto covers = test::coversOf(*layerOf(laid, laid.activeLayer)->source, *laid.maps);
    QVERIFY(covers[sampleAt(laid, {0, 4, 0})] > 0);
    QVERIFY(!layerOf(d, d.activeLayer)->mask);
    QVERIFY(!withPatternLaid(test::documentOf(test::plane(4, 4)), 1, acrossTheMiddle(-1)));
  }

  void reliefIsSoothedAndGivenBack() {
    const Document d = withScales();
    const auto heights = [&](const Document& of) {
      return test::heightsOf(**layerOf(of, of.activeLayer)->source->prepare(*of.maps), *of.maps);
    };
    const auto before = heights(d);
    const Document soothed = *withSoothed(d, d.activeLayer, acrossTheMiddle(0.8f));
    const auto after = heights(soothed);
    double here = 0, there = 0, hereWas = 0;
    for (size_t s = 0; s < before.size(); ++s) {
      const Vec3& p = d.surface->positions[s];
      if (std::abs(p.x()) < 2 && std::abs(p.y()) < 0.15f) {
        here += static_cast<double>(after[s]);
        hereWas += static_cast<double>(before[s]);
      }
      if (std::abs(p.y()) > 2.1f) there += static_cast<double>(std::abs(after[s] - before[s]));
    }
    QVERIFY2(std::abs(here / hereWas - 0.2) < 0.03, qPrintable(QString::number(here / hereWas)));
    QCOMPARE(there, 0.0);
    // colour and gloss stay
    QVERIFY(tonesOf(soothed) == tonesOf(d));
    const auto given = heights(*withSoothed(soothed, d.activeLayer, acrossTheMiddle(-1)));
    for (size_t s = 0; s < before.size(); ++s)
      if (std::abs(d.surface->positions[s].y()) < 0.1f && std::abs(d.surface->positions[s].x()) < 2)
        QVERIFY(std::abs(given[s] - before[s]) < 0.01f);
  }

  // What a stroke does not touch need not be worked out again.
  void onlyWhatIsSoothedChanges() {
    const Document d = withScales();
    const Document soothed = *withSoothed(d, d.activeLayer, {{Vec3(-7, -7, 0)}, 0, 1, 1});
    const auto source = [](const Document& of) {
      return *layerOf(of, of.activeLayer)->source->prepare(*of.maps);
    };
    std::vector<char> marks(chunkCount(d.maps->size()), 0);
    QVERIFY(source(soothed)->markChanges(Channel::Relief, *source(d), marks));
    const auto changed = std::ranges::count(marks, 1);
    QVERIFY(changed >= 1 && changed < static_cast<std::ptrdiff_t>(marks.size()));
    std::ranges::fill(marks, 0);
    QVERIFY(source(soothed)->markChanges(Channel::Color, *source(d), marks));
    QCOMPARE(std::ranges::count(marks, 1), 0);
  }

  void singleScalesAreTintedLiftedLostAndRestored() {
    const Document d = withScales();
    const auto before = tonesOf(d);
    const auto touched = [&](const Document& of, CellTouch::Kind kind, float amount = 1) {
      const CellTouch touch{kind, Vec3(0.3f, 0.2f, 0), 0, {0.9f, 0.05f, 0.05f}, amount};
      return *withCellsTouched(of, d.activeLayer, std::array{touch});
    };
    const uint32_t pressed = sampleAt(d, {0.3f, 0.2f, 0});
    const Document tinted = touched(d, CellTouch::Kind::Tint);
    const auto tones = tonesOf(tinted);
    size_t others = 0;
    for (size_t s = 0; s < tones.size(); ++s) {
      if (tones[s] == before[s]) continue;
      ++others;
      // one scale, and no more of the skin than one takes
      QVERIFY((d.surface->positions[s] - d.surface->positions[pressed]).norm() < 2);
    }
    QVERIFY(tones[pressed] > 0.8f && others > 30 && others < 200);
    QVERIFY(tonesOf(touched(d, CellTouch::Kind::Lift, 0.2f))[pressed] > before[pressed] + 0.1f);
    QVERIFY(tonesOf(touched(d, CellTouch::Kind::Lift, -0.2f))[pressed] < before[pressed] - 0.1f);
    const Document lost = touched(tinted, CellTouch::Kind::Lose);
    QCOMPARE(tonesOf(lost)[pressed], -1.f);
    QCOMPARE(test::heightsOf(**layerOf(lost, d.activeLayer)->source->prepare(*d.maps), *d.maps)[pressed],
             0.f);
    QVERIFY(tonesOf(touched(lost, CellTouch::Kind::Restore)) == before);
  }

  void mirroredAcross() {
    const Document d = withScales();
    const auto pushed = *withSizePushed(d, d.activeLayer, {{Vec3(4, 3, 0)}, 0, 2, 1}, {true, false, false});
    QCOMPARE(guidesOf(pushed).size.pushed.size(), size_t{2});
    const auto sizes = *wishedSizes(*d.maps, guidesOf(pushed).size);
    QVERIFY(sizes[sampleAt(d, {-4, 3, 0})] > 1.9f && sizes[sampleAt(d, {4, 3, 0})] > 1.9f);
    const CellTouch touch{CellTouch::Kind::Lose, Vec3(4, 3, 0), 0, {}, 1};
    const auto lost = *withCellsTouched(d, d.activeLayer, std::array{touch}, {true, false, false});
    QCOMPARE(tonesOf(lost)[sampleAt(d, {-4, 3, 0})], -1.f);
  }

  void refusedWhereItMeansNothing() {
    const Document d = test::documentOf(test::plane(20, 2));
    const Document painted = withPaintedLayer(d, "Paint", Stratum::Surface);
    QVERIFY(!withSizePushed(painted, painted.activeLayer, acrossTheMiddle(1)));
    QVERIFY(!withSoothed(painted, painted.activeLayer, acrossTheMiddle(1)));
    const Document bands = withSourceLayer(d, "Bands", Stratum::Pigment, bandSource({}));
    QVERIFY(withSoothed(bands, bands.activeLayer, acrossTheMiddle(1)));
    const auto refused = withCellsTouched(bands, bands.activeLayer, std::array{CellTouch{}});
    QVERIFY(!refused && refused.error().what.find("scales") != std::string::npos);
  }

  void comesBackFromTheFile() {
    Document d = withScales(40);
    d = *withSizePushed(d, d.activeLayer, acrossTheMiddle(-0.25f));
    d = *withSoothed(d, d.activeLayer, acrossTheMiddle(0.5f));
    const CellTouch touch{CellTouch::Kind::Tint, Vec3(1, 1, 0), 0, {0.2f, 0.4f, 0.6f}, 0.5f};
    d = *withCellsTouched(d, d.activeLayer, std::array{touch});
    const auto& source = *layerOf(d, d.activeLayer)->source;
    const auto again = makeSource("scales", source.parameters(), d.surface->size());
    QVERIFY(again && *(*again)->guides() == *source.guides());
    auto wrong = source.parameters();
    wrong["touched"][0]["do"] = "paint";
    QVERIFY(!makeSource("scales", wrong, 10));
    wrong = source.parameters();
    wrong["soothed"][0]["strength"] = "much";
    const auto refused = makeSource("scales", wrong, 10);
    QVERIFY(!refused && refused.error().what.find("stroke 1") != std::string::npos);
  }

  // A sculpt that stands up takes along what was done.
  void turnsWithTheSculpt() {
    Document d = withScales(40);
    d = *withSizePushed(d, d.activeLayer, {{Vec3(4, 3, 0)}, 0, 2, 1});
    const CellTouch touch{CellTouch::Kind::Lose, Vec3(4, 3, 0), 0, {}, 1};
    d = *withCellsTouched(d, d.activeLayer, std::array{touch});
    const Eigen::Matrix3f turn(Eigen::AngleAxisf(1.5707963f, Vec3::UnitX()));
    const Guides after = moved(guidesOf(d), turnedSkin(turn));
    QVERIFY((after.size.pushed[0].places[0] - Vec3(4, 0, 3)).norm() < 1e-4f);
    QVERIFY((after.cells[0].place - Vec3(4, 0, 3)).norm() < 1e-4f);
    // areas that are kept beside the guides turn too
    FineSkin skin;
    HueZone region;
    region.anchor = Vec3(4, 3, 0);
    region.like = "lip";
    skin.regions = {region};
    Document fine = withSourceLayer(d, "Fine", Stratum::Surface, fineSkinSource(skin));
    const uint32_t id = fine.activeLayer;
    Placement upright;
    upright.up = *axisFromKey("z");
    upright.front = *axisFromKey("-y");
    const auto placed = withPlacement(fine, upright);
    QVERIFY2(placed, placed ? "" : placed.error().what.c_str());
    const Vec3 now = fineSkinOf(*layerOf(*placed, id)->source)->regions[0].anchor;
    QVERIFY(std::abs(now.y()) < 1e-3f && std::abs(std::abs(now.z()) - 3) < 1e-3f);
  }
};

JUVENOR_TEST(TestByHand)
}  // namespace juvenor
#include "test_by_hand.moc"
