// Speckle, mottle and veins as live layers, and how much shows through a layer.
#include <numeric>

#include "core/document/edits/edits.h"
#include "core/document/edits/usual_markings.h"
#include "core/layers/composite/composite.h"
#include "core/layers/composite/show_through.h"
#include "core/surface/build/search.h"
#include "core/surface/falloff.h"
#include "support/made.h"
#include "support/run_all.h"
#include "support/sanitized.h"

namespace juvenor {
namespace {

// The alpha a source gives each sample.
std::vector<float> alphasOf(const LayerSource& source, SurfaceMaps& maps) {
  const auto made = *source.prepare(maps);
  std::vector<float> out(maps.size(), 0);
  const auto below = std::make_unique<ColorChunk>();
  for (size_t c = 0; c < chunkCount(maps.size()); ++c)
    if (const auto chunk = made->colors(c, *below))
      for (size_t s = c * kChunkSize; s < std::min(maps.size(), (c + 1) * kChunkSize); ++s)
        out[s] = static_cast<float>(chunk->plane[3][s % kChunkSize]) / 65535.f;
  return out;
}

double meanOver(const Surface& surface, const std::vector<float>& values) {
  double sum = 0, area = 0;
  for (size_t s = 0; s < values.size(); ++s) {
    sum += static_cast<double>(values[s] * surface.areas[s]);
    area += static_cast<double>(surface.areas[s]);
  }
  return sum / area;
}

Speckle dots(float smallest, float largest, float cover) {
  Speckle out;
  out.smallest = smallest;
  out.largest = largest;
  out.cover = cover;
  out.fade = 0;
  return out;
}

// Finer toward one side.
Sculpt uneven(int cells, float size) {
  Sculpt out = test::plane(cells, size);
  for (Vec3& v : out.vertices) {
    const float t = v.x() / size + 0.5f;
    v.x() = size * (0.35f * t + 0.65f * t * t - 0.5f);
  }
  return out;
}

Veins vessels(const Vec3& root, float reach) {
  Veins out;
  out.roots = {test::areaAt(root, reach)};
  out.fan = 1;
  out.width = 0.6f;
  out.finest = 0.1f;
  out.spacing = 1.5f;
  out.depth = 0;
  return out;
}

}  // namespace

class TestMarkings : public QObject {
  Q_OBJECT
 private slots:
  // Few spots are the first of many: whether more had been thrown before does not tell.
  void fewSpotsAreTheFirstOfMany() {
    const auto surface = test::surfaceOf(test::plane(300, 80));
    for (const float cover : {0.02f, 0.1f, 0.25f, 0.4f}) {
      SurfaceMaps fresh(surface), after(surface);
      const auto prepare = [&](SurfaceMaps& maps, float wanted) {
        return *speckleSource(dots(0.8f, 2, wanted))->prepare(maps);
      };
      prepare(after, 0.6f);
      const auto alone = prepare(fresh, cover), among = prepare(after, cover);
      size_t spots = 0;
      for (size_t c = 0; c < chunkCount(surface->size()); ++c) {
        const auto a = alone->colors(c, {}), b = among->colors(c, {});
        QCOMPARE(a == nullptr, b == nullptr);
        if (a) QVERIFY(a->plane == b->plane);
        spots += a != nullptr;
      }
      QVERIFY(spots > 0);
    }
  }

  // Coarse points show spots by their area, fine ones their shape; the mean is what was asked for.
  void speckleCoversWhatItIsAskedFor() {
    for (const Sculpt& sculpt : {test::plane(600, 80), test::plane(180, 80), uneven(500, 80)}) {
      SurfaceMaps maps(test::surfaceOf(sculpt));
      Speckle some = dots(0.5f, 1.4f, 0.12f);
      some.ragged = 0;
      some.softness = 0.4f;
      const double mean = meanOver(maps.surface(), alphasOf(*speckleSource(some), maps));
      // the edge fades over its part of the disc; seeds that keep their distance hardly overlap
      const double wanted = 0.12 * static_cast<double>(meanFalloff(0.6f));
      QVERIFY2(std::abs(mean / wanted - 1) < 0.04, qPrintable(QString::number(mean / wanted)));
    }
  }
  void fewerSpotsAreSomeOfTheSame() {
    SurfaceMaps maps(test::surfaceOf(test::plane(200, 40)));
    const auto many = alphasOf(*speckleSource(dots(0.6f, 1.5f, 0.3f)), maps),
               few = alphasOf(*speckleSource(dots(0.6f, 1.5f, 0.1f)), maps);
    size_t marked = 0;
    for (size_t s = 0; s < few.size(); ++s) {
      if (few[s] <= 0.02f) continue;
      ++marked;
      QVERIFY(many[s] >= few[s] - 0.001f);
    }
    QVERIFY(marked > 1000);
  }
  void mapsAndAreasSayWhere() {
    SurfaceMaps maps(test::surfaceOf(test::plane(200, 40)));
    Speckle some = dots(0.5f, 1.2f, 0.2f);
    MaskTerm right;
    right.map = {&kElevationMap, 0, Vec3::UnitX()};
    right.low = 0.5f;
    right.fade = 0;
    some.density = {right};
    const auto half = alphasOf(*speckleSource(some), maps);
    double left = 0;
    for (size_t s = 0; s < half.size(); ++s)
      if (maps.surface().positions[s].x() < -1) left = std::max(left, static_cast<double>(half[s]));
    QCOMPARE(left, 0.0);
    QVERIFY(meanOver(maps.surface(), half) > 0.03);
    some.density.clear();
    some.everywhere = 0;
    QCOMPARE(meanOver(maps.surface(), alphasOf(*speckleSource(some), maps)), 0.0);
    some.gather = {test::areaAt({8, 8, 0}, 6)};
    const auto gathered = alphasOf(*speckleSource(some), maps);
    for (size_t s = 0; s < gathered.size(); ++s)
      if (gathered[s] > 0) QVERIFY((maps.surface().positions[s] - Vec3(8, 8, 0)).norm() < 7.5f);
    QVERIFY(meanOver(maps.surface(), gathered) > 0.001);
  }
  void spotsStayOnTheirPartAndSide() {
    // a second part a hair above, and a plate whose far side is as near
    SurfaceMaps maps(test::surfaceOf(test::together(test::box(60, {20, 20, 0.2f}), test::plane(60, 20))));
    Speckle some = dots(1, 2, 0.2f);
    some.everywhere = 0;
    some.gather = {test::areaAt({0, 0, 0.1f}, 8)};
    some.gather[0].part = 0;
    const auto alphas = alphasOf(*speckleSource(some), maps);
    size_t marked = 0;
    for (size_t s = 0; s < alphas.size(); ++s) {
      if (alphas[s] <= 0) continue;
      ++marked;
      QVERIFY(maps.surface().parts[s] == 0 && maps.surface().normals[s].z() > 0);
    }
    QVERIFY(marked > 40);
  }
  void raisedOnesStandOut() {
    SurfaceMaps maps(test::surfaceOf(test::plane(200, 20)));
    Speckle moles = dots(1, 2, 0.05f);
    moles.raised = 1;
    moles.height = 0.05f;
    const auto made = *speckleSource(moles)->prepare(maps);
    QVERIFY(made->channels().has(Channel::Relief));
    float highest = 0;
    for (size_t c = 0; c < chunkCount(maps.size()); ++c)
      if (const auto chunk = made->heights(Channel::Relief, c))
        for (const uint16_t h : chunk->plane[0]) {
          QVERIFY(heightOf(h, maps.reliefStep()) > -1e-6f);
          highest = std::max(highest, heightOf(h, maps.reliefStep()));
        }
    QVERIFY2(std::abs(highest - 0.05f) < 0.006f, qPrintable(QString::number(highest)));
    moles.height = 0;
    QVERIFY(!speckleSource(moles)->channels().has(Channel::Relief));
  }
  void tonesOfMottleShareTheSkin() {
    SurfaceMaps maps(test::surfaceOf(test::plane(300, 300)));
    Mottle some;
    some.tones = {{{1, 0, 0}, 0.25f}, {{0, 1, 0}, 0.5f}, {{0, 0, 1}, 0.75f}};
    some.size = 9;
    some.fine = 4;
    some.balance = 0;
    some.softness = 0;
    some.bend = 0;
    const auto alphas = alphasOf(*mottleSource(some), maps);
    for (const float tone : {0.25f, 0.5f, 0.75f}) {
      const auto own = std::ranges::count_if(alphas, [&](float a) { return std::abs(a - tone) < 0.02f; });
      const double share = static_cast<double>(own) / static_cast<double>(alphas.size());
      QVERIFY2(std::abs(share - 1.0 / 3) < 0.05, qPrintable(QString::number(share)));
    }
    // bending needs the form and changes where clouds lie on it
    SurfaceMaps folded(test::surfaceOf(test::torus(60, 8, 3)));
    some.bend = 0.8f;
    some.crease = 2;
    const auto bent = alphasOf(*mottleSource(some), folded);
    some.bend = 0;
    QVERIFY(bent != alphasOf(*mottleSource(some), folded));
  }
  void markingsLookAlikeOnCoarseAndFineSkin() {
    const int rings = test::kSanitized ? 200 : 300;
    SurfaceMaps coarse(test::surfaceOf(test::sphere(160, 10))),
        fine(test::surfaceOf(test::sphere(rings, 10)));
    Mottle clouds;
    clouds.tones = {{{1, 0, 0}, 0}, {{1, 0, 0}, 1}};
    clouds.size = 5;
    clouds.fine = 2;
    clouds.bend = 0;
    for (const SourcePointer& source : {mottleSource(clouds), speckleSource(dots(1.2f, 3, 0.2f))}) {
      const auto a = alphasOf(*source, coarse), b = alphasOf(*source, fine);
      double off = 0;
      for (size_t s = 0; s < a.size(); ++s) {
        const auto there = *nearestSample(fine.surface(), coarse.surface().positions[s], 1);
        off += static_cast<double>(std::abs(a[s] - b[there]));
      }
      off /= static_cast<double>(a.size());
      QVERIFY2(off < 0.03, qPrintable(QString::number(off)));
    }
  }
  // Murray 1926: a stem's radius cubed is the sum of its branches' cubes; so none is thinner than what leaves
  // it.
  void veinsTaperFromTheRoot() {
    SurfaceMaps maps(test::surfaceOf(test::plane(160, 30)));
    const auto paths = *grownVeins(maps, vessels({-8, 0, 0}, 18));
    QVERIFY(paths.size() > 20);
    float thickest = 0;
    for (const VeinPath& path : paths) {
      QCOMPARE(path.places.size(), path.radii.size());
      for (size_t i = 0; i < path.radii.size(); ++i) {
        QVERIFY(path.radii[i] >= 0.05f - 1e-6f && path.radii[i] <= 0.3f + 1e-6f);
        // from the tip toward the stem
        if (i > 0 && i + 4 < path.radii.size()) QVERIFY(path.radii[i] >= path.radii[i - 1] - 1e-5f);
        if (path.radii[i] > thickest) thickest = path.radii[i];
        QVERIFY((path.places[i] - Vec3(-8, 0, 0)).norm() < 18 * 1.6f);
      }
    }
    QVERIFY(std::abs(thickest - 0.3f) < 0.01f);
    // toward the right alone they stay there
    Veins narrow = vessels({-8, 0, 0}, 18);
    narrow.toward = Vec3::UnitX();
    narrow.fan = 0.2f;
    const auto narrowed = *grownVeins(maps, narrow);
    for (const VeinPath& path : narrowed) {
      const Vec3 away = path.places.front() - Vec3(-8, 0, 0);
      QVERIFY(away.x() > 0.7f * away.norm() - 1);
    }
  }
  void veinsGoAroundAGap() {
    // a slit between both sides, open only at the top
    Sculpt sheet = test::plane(100, 20), slit = sheet;
    slit.polygonStart = {0};
    slit.corners.clear();
    slit.polygonPart.clear();
    for (size_t p = 0; p < sheet.polygonCount(); ++p) {
      Vec3 middle = Vec3::Zero();
      for (const uint32_t v : sheet.polygon(p)) middle += sheet.vertices[v] / 4;
      if (std::abs(middle.x()) < 0.5f && middle.y() < 7) continue;
      for (const uint32_t v : sheet.polygon(p)) slit.corners.push_back(v);
      slit.polygonStart.push_back(static_cast<uint32_t>(slit.corners.size()));
      slit.polygonPart.push_back(0);
    }
    SurfaceMaps maps(test::surfaceOf(slit));
    Veins some = vessels({-3, -5, 0}, 40);
    some.spacing = 2;
    const auto paths = *grownVeins(maps, some);
    bool across = false;
    for (const VeinPath& path : paths)
      for (size_t i = 0; i + 1 < path.places.size(); ++i) {
        const Vec3 &a = path.places[i], &b = path.places[i + 1];
        across |= b.x() > 2;
        if (a.x() * b.x() < 0) QVERIFY2(a.y() > 6, qPrintable(QString::number(a.y())));
      }
    QVERIFY(across);
    // and never onto another part, however near
    SurfaceMaps two(test::surfaceOf(test::together(test::plane(60, 20), [] {
      Sculpt above = test::plane(60, 20, "above");
      for (Vec3& v : above.vertices) v.z() = 0.05f;
      return above;
    }())));
    Veins lower = vessels({0, 0, 0}, 8);
    lower.roots[0].part = 0;
    const auto alphas = alphasOf(*veinSource(lower), two);
    size_t marked = 0;
    for (size_t s = 0; s < alphas.size(); ++s) {
      marked += alphas[s] > 0;
      if (alphas[s] > 0) QCOMPARE(two.surface().parts[s], 0u);
    }
    QVERIFY(marked > 50);
  }
  void parametersComeBackAsTheyWere() {
    Speckle s = dots(0.5f, 2, 0.2f);
    s.gather = {test::areaAt({1, 2, 3}, 4)};
    s.density = {MaskTerm{}};
    s.density[0].map.scale = 2;
    s.seed = 99;
    Mottle m;
    m.tones = {{{1, 0, 0}, 0.2f}, {{0, 1, 0}, 0.3f}, {{0, 0, 1}, 0.4f}};
    Veins v = vessels({1, 2, 3}, 5);
    v.toward = Vec3(0, 0.6f, 0.8f);
    for (const SourcePointer& source : {speckleSource(s), mottleSource(m), veinSource(v)}) {
      const auto again = makeSource(source->kind().key, source->parameters(), 10);
      QVERIFY2(again, again ? "" : again.error().what.c_str());
      QCOMPARE(QString::fromStdString((*again)->parameters().dump()),
               QString::fromStdString(source->parameters().dump()));
      const auto parameters = source->parameters();
      for (const auto& [key, value] : parameters.items())
        QVERIFY(std::ranges::find(source->kind().keys, key) != source->kind().keys.end());
    }
  }
  void badParametersAreToldByName() {
    using nlohmann::json;
    const auto refused = [](const char* kind, const json& parameters, const char* word) {
      const auto made = makeSource(kind, parameters, 10);
      return !made && made.error().what.find(word) != std::string::npos;
    };
    QVERIFY(refused("speckle", {{"cover", "much"}}, "cover"));
    QVERIFY(refused("speckle", {{"seed", -1}}, "seed"));
    QVERIFY(refused("speckle", {{"maps", {{{"map", "moon"}}}}}, "moon"));
    QVERIFY(refused("speckle", {{"zones", {json::object()}}}, "anchor"));
    QVERIFY(refused("mottle", {{"tones", json::array()}, {"size", 1}}, "tones"));
    QVERIFY(refused("mottle", {{"size", 1}}, "tones"));
    QVERIFY(refused("mottle", {{"tones", {{{"color", "x"}}, {{"color", "#fff000"}}}}, {"size", 1}}, "color"));
    QVERIFY(refused("veins", {{"toward", {0, 0, 0}}}, "toward"));
    QVERIFY(refused("veins", {{"wiggle", 1}}, "wiggle"));
    // sizes of nothing are lifted off it
    QVERIFY(makeSource("speckle", {{"smallest", 0}, {"largest", 0}}, 10));
  }
  // Numbers a file may hold, far from any skin: an answer, no wait without end.
  void extremeParametersAreAnswered() {
    SurfaceMaps maps(test::surfaceOf(test::plane(60, 10)));
    using nlohmann::json;
    const json root{{{"anchor", {0, 0, 0}}, {"reach", 1e9}, {"strength", 1}}};
    const json far{{{"anchor", {1e8, 0, 0}}, {"reach", 1}, {"strength", 1}}};
    const std::pair<const char*, json> all[] = {
        {"speckle", {{"smallest", 1e-6}, {"largest", 1e-6}, {"cover", 0.6}}},
        {"speckle", {{"smallest", 1e9}, {"largest", 1e9}, {"cover", 0.6}}},
        {"speckle", {{"smallest", 1e9}, {"largest", 1e-6}}},
        {"speckle", {{"cover", 0}}},
        {"speckle", {{"everywhere", 0}, {"zones", far}}},
        {"mottle", {{"size", 1e-6}, {"fine", 1e9}, {"tones", {{{"color", "#000"}}, {{"color", "#fff"}}}}}},
        {"mottle",
         {{"size", 1e-6}, {"marbling", 1}, {"tones", {{{"color", "#000000"}}, {{"color", "#ffffff"}}}}}},
        {"veins", {{"zones", root}, {"spacing", 1e9}, {"width", 1e9}, {"depth", 1e9}}},
        {"veins", {{"zones", root}, {"spacing", 0.4}, {"width", 1e-6}, {"finest", 1e9}, {"fan", 0}}},
        {"veins", {{"zones", far}}}};
    for (const auto& [kind, parameters] : all) {
      const auto source = makeSource(kind, parameters, maps.size());
      if (!source) {
        QVERIFY(!source.error().what.empty());
        continue;
      }
      for (const float alpha : alphasOf(**source, maps)) QVERIFY(alpha >= 0 && alpha <= 1);
    }
  }
  void aLayerThatTakesTimeStaysAsItWas() {
    Document d = test::documentOf(test::plane(120, 40));
    d = withSourceLayer(d, "s", Stratum::Pigment, speckleSource(dots(0.5f, 1, 0.1f)));
    const PreparedStack ready = *prepared(d.layers, *d.maps);
    Speckle other = dots(2, 5, 0.1f);
    other.seed = 5;
    const Document next = *withSource(d, d.activeLayer, speckleSource(other));
    const PreparedStack now = preparedNow(next.layers, *d.maps, ready);
    QVERIFY(now.back().waiting);
    QCOMPARE(now.back().source, ready.back().source);
    const PreparedStack later = *prepared(next.layers, *d.maps, {}, now);
    QVERIFY(!later.back().waiting && later.back().source != ready.back().source);
    QVERIFY(!changedChunks(now, later, d.surface->size()).empty());
  }
  void areasGoWithTheirLandmarks() {
    Document d = test::documentOf(test::sphere(60, 10));
    d = *withLandmark(d, "nose", {0, 0, 10});
    d = *withLandmark(d, "temple", {7, 5, 5});
    d = withSourceLayer(d, "f", Stratum::Pigment, speckleSource(usualFreckles(d)));
    QCOMPARE(d.layers.back()->source->zones()->zones.size(), size_t{1});
    d = *withLandmark(d, "nose", {0, 3, 9.5f});
    QVERIFY(speckleOf(*d.layers.back()->source)->gather[0].anchor == Vec3(0, 3, 9.5f));
    QCOMPARE(usualVeins(d).roots.size(), size_t{1});
    QVERIFY(usualBlush(d).size() == d.surface->size());
    ZoneSet none;
    QVERIFY(!juvenor::withZones(withPaintedLayer(d, "p", Stratum::Flesh), 99, none));
  }
  void whatShowsThroughIsTold() {
    Document d = test::documentOf(test::plane(150, 10));
    d = withFillLayer(d, "below", Stratum::Pigment, {0.2f, 0.3f, 0.4f});
    const uint32_t below = d.activeLayer;
    d = withFillLayer(d, "above", Stratum::Pigment, {0.8f, 0.3f, 0.4f});
    LayerChange change;
    change.opacity = 0.3f;
    d = *withLayerChanged(d, d.activeLayer, change);
    ScalarField half(d.surface->size(), {0});
    for (size_t c = 0; c < half.chunkCount(); ++c) {
      auto chunk = half.writable(c);
      for (size_t s = c * kChunkSize; s < std::min(half.size(), (c + 1) * kChunkSize); ++s)
        if (d.surface->positions[s].x() > 0) chunk->plane[0][s % kChunkSize] = 65535;
      half.setChunk(c, chunk);
    }
    const uint32_t above = d.activeLayer;
    d = *withMaskField(d, above, half);
    const auto shows = *showThrough(*prepared(d.layers, *d.maps), above, *d.surface, d.bare);
    QVERIFY(std::abs(shows.shows - 0.7f) < 0.001f);
    QVERIFY(std::abs(shows.covered - 0.5f) < 0.02f);
    QCOMPARE(shows.below, below);
    const auto right = *nearestSample(*d.surface, {3, 0, 0}, 1),
               left = *nearestSample(*d.surface, {-3, 0, 0}, 1);
    QVERIFY(std::abs(shows.field->at(right)[0] - 45875) <= 2);
    QCOMPARE(shows.field->at(left)[0], uint16_t{65535});
    const auto whole = *showThrough(*prepared(d.layers, *d.maps), below, *d.surface, d.bare);
    QVERIFY(whole.shows < 0.001f && whole.covered > 0.999f && whole.below == 0);
    change.visible = false;
    d = *withLayerChanged(d, above, change);
    QVERIFY(!showThrough(*prepared(d.layers, *d.maps), above, *d.surface, d.bare));
  }
};

JUVENOR_TEST(TestMarkings)
}  // namespace juvenor
#include "test_markings.moc"
