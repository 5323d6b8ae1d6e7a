// Scales as live layers: heights as asked, dying out by their own forms, guides, what is worked out anew.
#include "core/document/edits/edit_groups.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/patterns.h"
#include "core/surface/build/search.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Scales plain(float size) {
  Scales out;
  out.guides.direction.flow = Vec3::UnitX();
  out.guides.direction.form = 5;
  out.guides.size.size = size;
  out.uneven = 0;
  out.wear = 0;
  return out;
}

// What a layer of scales brings to each sample, with one grey of mask everywhere.
struct Brought {
  std::vector<float> alphas, heights;
};
Brought broughtBy(const Scales& scales, SurfaceMaps& maps, float mask) {
  const auto made = *scaleSource(scales)->prepare(maps);
  Brought out;
  const auto below = std::make_unique<ColorChunk>();
  const auto shown = std::make_unique<ScalarChunk>();
  shown->plane[0].fill(to16(mask));
  for (size_t c = 0; c < chunkCount(maps.size()); ++c) {
    const ChunkAsk ask(c, mask < 1 ? shown.get() : nullptr);
    const auto colors = made->colors(ask, *below);
    const auto heights = made->heights(Channel::Relief, ask);
    for (size_t i = 0; i < std::min(kChunkSize, maps.size() - c * kChunkSize); ++i) {
      out.alphas.push_back(from16(colors->plane[3][i]));
      out.heights.push_back(heightOf(heights->plane[0][i], maps.reliefStep()));
    }
  }
  return out;
}

float meanOfAll(const std::vector<float>& values) {
  double sum = 0;
  for (const float v : values) sum += static_cast<double>(v);
  return static_cast<float>(sum / static_cast<double>(values.size()));
}

Document scaled(const Document& document, const Scales& scales) {
  return withSourceLayer(document, "Scales", Stratum::Surface, scaleSource(scales));
}

}  // namespace

class TestScales : public QObject {
  Q_OBJECT
 private slots:
  // A scale that is pressed changes the chunks it lies in, and no others.
  void aTouchedScaleChangesItselfAlone() {
    SurfaceMaps maps(test::surfaceOf(test::plane(300, 100)));
    Scales scales = plain(4);
    const auto before = *scaleSource(scales)->prepare(maps);
    scales.guides.cells.push_back({CellTouch::Kind::Lose, {20, 10, 0}, 0, {}, 1});
    const auto touched = *scaleSource(scales)->prepare(maps);
    std::vector<char> marks(chunkCount(maps.size()), 0), back = marks;
    QVERIFY(touched->markChanges(Channel::Color, *before, marks));
    QVERIFY(before->markChanges(Channel::Color, *touched, back));
    QCOMPARE(back, marks);
    size_t changed = 0;
    const auto below = std::make_unique<ColorChunk>();
    for (size_t c = 0; c < marks.size(); ++c) {
      const bool same = touched->colors(c, *below)->plane == before->colors(c, *below)->plane;
      QCOMPARE(marks[c] != 0, !same);
      changed += !same;
    }
    QVERIFY2(changed > 0 && changed < 5, qPrintable(QString::number(changed)));
    // another look is another matter
    scales.dome = 0.1f;
    QVERIFY(!(*scaleSource(scales)->prepare(maps))->markChanges(Channel::Color, *touched, marks));
  }
  void reliefIsAsHighAsAsked_data() {
    QTest::addColumn<int>("shape");
    for (int i = 0; i < 5; ++i) QTest::addRow("%d", i) << i;
  }

  // From the groove to the top, to a tenth; flat ones all over to the step.
  void reliefIsAsHighAsAsked() {
    QFETCH(int, shape);
    SurfaceMaps maps(test::surfaceOf(test::plane(250, 25)));
    Scales scales = usualScales(static_cast<ScaleShape>(shape), plain(2.5f));
    scales.keel = scales.tilt = 0;
    scales.depth = 0.4f;
    const auto round = std::ranges::minmax(broughtBy(scales, maps, 1).heights);
    QVERIFY(round.min >= -maps.reliefStep());
    QVERIFY(round.min < 0.04f);
    QVERIFY2(std::abs(round.max - 0.4f) < 0.02f, qPrintable(QString::number(static_cast<double>(round.max))));
    scales.dome = 0;
    QVERIFY(std::abs(std::ranges::max(broughtBy(scales, maps, 1).heights) - 0.4f) < 2 * maps.reliefStep());
    scales.depth = -0.4f;
    QVERIFY(std::abs(std::ranges::min(broughtBy(scales, maps, 1).heights) + 0.4f) < 2 * maps.reliefStep());
  }

  // Where the mask fades scales are smaller and flatter, and their middles are the last to go.
  void dyingOutTheyShrinkAndFlatten() {
    SurfaceMaps maps(test::surfaceOf(test::plane(250, 25)));
    const Scales scales = usualScales(ScaleShape::Pebble, plain(2.5f));
    const Brought whole = broughtBy(scales, maps, 1), half = broughtBy(scales, maps, 0.6f),
                  none = broughtBy(scales, maps, 0);
    QCOMPARE(std::ranges::max(none.alphas), 0.f);
    QCOMPARE(std::ranges::max(none.heights), 0.f);
    QVERIFY(std::ranges::max(half.heights) < 0.7f * std::ranges::max(whole.heights));
    QVERIFY(meanOfAll(half.heights) < 0.5f * meanOfAll(whole.heights));
    size_t raised = 0, raisedWhole = 0;
    for (size_t i = 0; i < whole.heights.size(); ++i) {
      raisedWhole += whole.heights[i] > 0.02f;
      raised += half.heights[i] > 0.02f;
      // nothing stands higher than it did
      QVERIFY(half.heights[i] <= whole.heights[i] + 2 * maps.reliefStep());
    }
    QVERIFY(raised > 0 && raised < raisedWhole * 7 / 10);
  }

  // Merging uses the mask once, like the composite.
  void mergedTheyLookTheSame() {
    Document d =
        scaled(withPaintedLayer(test::documentOf(test::plane(120, 12)), "Below", Stratum::Surface), plain(2));
    ScalarField mask = openMask(d.surface->size());
    for (size_t c = 0; c < mask.chunkCount(); ++c) {
      auto chunk = mask.writable(c);
      for (size_t s = c * kChunkSize; s < std::min(mask.size(), (c + 1) * kChunkSize); ++s)
        chunk->plane[0][s % kChunkSize] = to16(std::clamp(d.surface->positions[s].x() / 12 + 0.5f, 0.f, 1.f));
      mask.setChunk(c, std::move(chunk));
    }
    d = *withMaskField(*withMask(d, d.activeLayer), d.activeLayer, mask);
    const ColorField before = *compositeOf(d.layers, *d.maps, d.bare);
    Document merged = *withMergedDown(d, d.activeLayer);
    QCOMPARE(merged.layers.size() + 1, d.layers.size());
    const ColorField after = *compositeOf(merged.layers, *merged.maps, merged.bare);
    int worst = 0;
    for (size_t s = 0; s < before.size(); ++s)
      for (size_t p = 0; p < 3; ++p)
        worst = std::max(worst, std::abs(int{before.at(s)[p]} - int{after.at(s)[p]}));
    QVERIFY2(worst < 200, qPrintable(QString::number(worst)));
  }

  // A new look asks for no new cells, a new arrangement does; and what comes of it is told.
  void looksAreCheapAndCellsAreKept() {
    SurfaceMaps maps(test::surfaceOf(test::plane(150, 15)));
    Scales scales = plain(2);
    const auto first = *scaleSource(scales)->prepare(maps);
    Scales look = scales;
    look.depth = 1;
    look.grooveColor = {0.5f, 0, 0};
    QVERIFY(scaleSource(look)->isReady(maps));
    const auto second = *scaleSource(look)->prepare(maps);
    std::vector<char> marks(chunkCount(maps.size()), 0);
    QVERIFY(!second->markChanges(Channel::Color, *first, marks));
    QVERIFY((*scaleSource(scales)->prepare(maps))->markChanges(Channel::Color, *first, marks));
    QCOMPARE(std::ranges::count(marks, 1), 0);
    Scales larger = scales;
    larger.guides.size.size = 3;
    QVERIFY(!scaleSource(larger)->isReady(maps));
    const auto stopped = scaleSource(larger)->prepare(maps, [](float f) { return f < 0.5f; });
    QVERIFY(!stopped && isCancelled(stopped.error()));
    QVERIFY(!scaleSource(larger)->isReady(maps));
  }

  void parametersComeBack() {
    Scales scales = usualScales(ScaleShape::Leaf, plain(2));
    scales.guides.direction.combs = {{{Vec3(0, 0, 0), Vec3(1, 2, 0)}, 0, 3, 0.7f}};
    scales.guides.size.smaller = {test::areaAt({1, 1, 0}, 4)};
    scales.over = ScaleCoordinate::Each;
    scales.variety.hue = 12;
    const SourcePointer source = scaleSource(scales);
    const auto back = makeSource("scales", source->parameters(), 10);
    QVERIFY(back);
    QVERIFY(*scalesOf(**back) == scales);
    QCOMPARE((*back)->remark(), std::string("leaf"));
    const auto wrong = [](const nlohmann::json& parameters) {
      return makeSource("scales", parameters, 10).error().what;
    };
    QCOMPARE(wrong({{"shape", "pebbel"}}),
             std::string("scales: shape knows no 'pebbel'; did you mean \"pebble\"?"));
    QVERIFY(
        wrong({{"direction", {{"combs", {{{"places", {{0, 0, 0}}}}}}}}}).find("comb 1 needs two places") !=
        std::string::npos);
    QVERIFY(
        wrong({{"direction", {{"combs", {{{"places", {{0, "x", 0}, {1, 0, 0}}}}}}}}}).find("three numbers") !=
        std::string::npos);
    QVERIFY(wrong({{"size", {{"maps", {{{"map", "cavty"}}}}}}}).find("cavity") != std::string::npos);
    QVERIFY(wrong({{"stops", {{{"at", 0}, {"gloss", 1}}}}}).find("colours alone") != std::string::npos);
  }

  void areasMakeThemSmaller() {
    const auto surface = test::surfaceOf(test::plane(250, 25));
    SurfaceMaps maps(surface);
    SizeGuide guide;
    guide.size = 2;
    guide.smallest = 0.5f;
    guide.smaller = {test::areaAt({0, 0, 0}, 5)};
    guide.smaller[0].strength = 1;
    const auto sizes = *sizesOf(maps, guide);
    QCOMPARE(sizes->finest, 1.f);
    QVERIFY(std::abs(sizes->of[*nearestSample(*surface, {0, 0, 0}, 1)] - 1) < 0.05f);
    QVERIFY(std::abs(sizes->of[*nearestSample(*surface, {11, 11, 0}, 1)] - 2) < 1e-3f);
    // never finer than points can show
    guide.size = 0.01f;
    QVERIFY(std::abs((*sizesOf(maps, guide))->finest - kLeastSpacings * surface->spacing) < 1e-5f);
  }

  // Combs lie on the skin, whichever way the sculpt stands.
  void combsTurnWithTheSculpt() {
    Scales scales = plain(3);
    scales.guides.direction.flow = Vec3::Zero();
    scales.guides.direction.curvature = 0;
    scales.guides.direction.combs = {{{Vec3(-3, 0, 0), Vec3(3, 0, 0)}, 0, 4, 1}};
    const Document d = scaled(test::documentOf(test::plane(60, 12)), scales);
    const auto directions =
        *directionsOf(*d.maps, scalesOf(*d.layers.back()->source)->guides.direction, Symmetry::Direction);
    for (const Vec3& v : *directions) QVERIFY(v.x() > 0.98f);
    const Document lying = *withPlacement(d, {Axis::PlusZ, Axis::PlusX, 1});
    const DirectionGuide& turnedGuide = scalesOf(*lying.layers.back()->source)->guides.direction;
    const Vec3 way = turnOf(lying.placement) * Vec3::UnitX();
    QVERIFY((turnedGuide.combs[0].places[1] - turnedGuide.combs[0].places[0]).normalized().dot(way) > 0.99f);
    const auto turnedDirections = *directionsOf(*lying.maps, turnedGuide, Symmetry::Direction);
    for (const Vec3& v : *turnedDirections) QVERIFY(v.dot(way) > 0.98f);
    // and so does the general flow
    scales.guides.direction.combs.clear();
    scales.guides.direction.flow = Vec3::UnitX();
    const Document flowing =
        *withPlacement(scaled(test::documentOf(test::plane(60, 12)), scales), {Axis::PlusZ, Axis::PlusX, 1});
    const DirectionGuide& flow = scalesOf(*flowing.layers.back()->source)->guides.direction;
    QVERIFY(flow.flow == way);
    for (const Vec3& v : **directionsOf(*flowing.maps, flow, Symmetry::Direction))
      QVERIFY(v.dot(way) > 0.98f);
    // a quarter turn against the direction
    DirectionGuide across = turnedGuide;
    across.turn = 90;
    const auto crossing = *directionsOf(*lying.maps, across, Symmetry::Direction);
    for (const Vec3& v : *crossing) QVERIFY(std::abs(v.dot(way)) < 0.2f);
  }

  // Lids and lips by their landmarks, parts that are no skin by their names; nothing known is told.
  void theUsualPlacesStayBare() {
    Document d = test::documentOf(test::together(test::plane(60, 12, "Face"), test::plane(4, 1, "Left eye")));
    d = scaled(d, plain(1));
    const uint32_t id = d.activeLayer;
    Document named = *withUsualExceptions(d, id);
    const auto shownAt = [&](const Document& x, uint32_t part, const Vec3& place) {
      const auto& mask = layerOf(x, id)->mask;
      return mask ? from16(mask->at(*nearestSample(*x.surface, place, 10, part))[0]) : 1.f;
    };
    QCOMPARE(shownAt(named, 1, {0, 0, 0}), 0.f);
    QCOMPARE(shownAt(named, 0, {0, 0, 0}), 1.f);
    for (const auto& [key, place] : {std::pair("crown", Vec3(0, 5, 0)), std::pair("chin", Vec3(0, -5, 0)),
                                     std::pair("lip", Vec3(0, -3, 0)), std::pair("lid", Vec3(2, 2, 0))})
      d = *withLandmark(d, key, place);
    const Document bare = *withUsualExceptions(d, id);
    QVERIFY(shownAt(bare, 0, {0, -3, 0}) < 0.05f);
    QVERIFY(shownAt(bare, 0, {-2, 2, 0}) < 0.05f);
    QCOMPARE(shownAt(bare, 0, {5, 5, 0}), 1.f);
    const Document plainPlane = scaled(test::documentOf(test::plane(20, 4)), plain(1));
    const auto none = withUsualExceptions(plainPlane, plainPlane.activeLayer);
    QVERIFY(!none && none.error().what.find("landmarks") != std::string::npos);
  }
};

JUVENOR_TEST(TestScales)
}  // namespace juvenor
#include "test_scales.moc"
