// The demo sculpts: the same bytes every time, whole, and of the size that was asked for.
#include "core/color/lab.h"
#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/layers/nesting.h"
#include "core/layers/sources/thrown.h"
#include "core/noise/noise.h"
#include "core/photo/photo_measures.h"
#include "demo/demo.h"
#include "demo/isosurface.h"
#include "demo/recipes.h"
#include "demo/shapes.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {

class TestDemo : public QObject {
  Q_OBJECT
 private slots:
  void figuresAreWholeAndOfTheSizeAskedFor_data() {
    QTest::addColumn<QString>("key");
    QTest::addColumn<int>("parts");
    QTest::newRow("ferryman") << "ferryman" << 7;
    QTest::newRow("keeper") << "keeper" << 3;
  }
  void figuresAreWholeAndOfTheSizeAskedFor() {
    QFETCH(QString, key);
    QFETCH(int, parts);
    const auto figure = *demo::figureFromKey(key.toStdString());
    const auto sculpt = demo::makeSculpt(figure, 30'000);
    QVERIFY(sculpt);
    QCOMPARE(static_cast<int>(sculpt->parts.size()), parts);
    QVERIFY2(sculpt->vertices.size() > 24'000 && sculpt->vertices.size() < 37'500,
             qPrintable(QString::number(sculpt->vertices.size())));
    std::vector<size_t> polygons(sculpt->parts.size());
    for (const uint32_t p : sculpt->polygonPart) ++polygons[p];
    for (const size_t n : polygons) QVERIFY(n > 100);
    const auto again = demo::makeSculpt(figure, 30'000);
    QCOMPARE(QString::fromStdString(test::difference(*sculpt, *again)), QString());
    // a bust has an inside: the volume under its skin is positive
    double volume = 0;
    for (size_t p = 0; p < sculpt->polygonCount(); ++p) {
      const auto q = sculpt->polygon(p);
      const Eigen::Vector3d a = sculpt->vertices[q[0]].cast<double>(),
                            b = sculpt->vertices[q[1]].cast<double>(),
                            c = sculpt->vertices[q[2]].cast<double>(),
                            d = sculpt->vertices[q[3]].cast<double>();
      volume += (a.dot(b.cross(c)) + a.dot(c.cross(d))) / 6;
    }
    QVERIFY(volume > 1e6);  // cubic millimetres: a litre
  }
  void dressedFiguresComeWithLayersInEveryPlace() {
    for (const auto figure : {demo::Figure::Ferryman, demo::Figure::Keeper}) {
      const auto sculpt = std::make_shared<const Sculpt>(*demo::makeSculpt(figure, 20'000));
      const Document d = *demo::dressed(figure, sculpt, *buildSurface(*sculpt));
      QVERIFY(d.layers.size() >= 5);
      QVERIFY(paintable(d, d.activeLayer, false));
      const PreparedStack stack = *prepared(d.layers, *d.maps);
      QVERIFY(withoutTrouble(stack));
      for (const LayerPointer& l : d.layers) {
        if (l->id == d.activeLayer) continue;
        if (const size_t row = placeOf(d, l->id); isGroup(*l)) {
          QVERIFY(row - firstOf(d.layers, row) >= 2);
          continue;
        }
        size_t covered = 0;
        const PreparedLayer& own = *std::ranges::find(stack, l, &PreparedLayer::layer);
        for (size_t c = 0; c < chunkCount(d.surface->size()); ++c) {
          const auto count = [&](const auto& plane) {
            covered += static_cast<size_t>(std::ranges::count_if(plane, [](uint16_t a) { return a > 0; }));
          };
          if (const auto chunk = ownChunk(stack, l->id, d.bare, c)) count(chunk->plane[3]);
          if (const auto gloss = ownChunk<Channel::Gloss>(own, c)) count(gloss->plane[1]);
          if (const auto fuzz = ownChunk<Channel::Fuzz>(own, c)) count(fuzz->plane[1]);
        }
        QVERIFY2(covered > 12, l->name.c_str());  // a thread on an eye has few points here
      }
    }
  }
  // The head by photos looks like the one that was photographed, and the board's pictures are what they are
  // said to be.
  void aHeadIsColouredByPhotos() {
    const auto sculpt = std::make_shared<const Sculpt>(*demo::makeSculpt(demo::Figure::ByPhotos, 20'000));
    const auto surface = *buildSurface(*sculpt);
    const Document painted = *demo::dressed(demo::Figure::Keeper, sculpt, surface),
                   thrown = *demo::dressed(demo::Figure::ByPhotos, sculpt, surface);
    QCOMPARE(thrown.slides.size(), size_t{7});
    QVERIFY(paintable(thrown, thrown.activeLayer, false));
    const Throw* photos = throwOf(*thrown.layers[1]->source);
    QVERIFY(photos && photos->slides.size() == 6);
    const ColorField wanted = *compositeOf(painted.layers, *painted.maps, painted.bare),
                     found = *compositeOf(thrown.layers, *thrown.maps, thrown.bare);
    double off = 0, area = 0;
    for (uint32_t s = 0; s < surface->size(); ++s) {
      if (surface->normals[s].z() < 0.3f) continue;
      const auto a = static_cast<double>(surface->areas[s]);
      off += a * deltaE2000(toLab(straight(colorAt(wanted, s))), toLab(straight(colorAt(found, s))));
      area += a;
    }
    QVERIFY2(off / area < 3, qPrintable(QString::number(off / area)));
    std::map<std::string, PhotoMeasures> worth;
    for (const BoardPicture& p : thrown.board) worth[p.name] = measured(*pyramidOf(p.data));
    QCOMPARE(worth.size(), size_t{5});
    QVERIFY(sharpnessWord(worth["gill, out of focus"]) == PhotoWord::Poor);
    QVERIFY(sharpnessWord(worth["flushed gill"]) != PhotoWord::Poor);
    const PhotoMeasures &even = worth["weathered cheek"], &side = worth["cheek, lit from the left"];
    QVERIFY2(
        side.unevenness > 2 * even.unevenness && side.brightSide.x() < -0.3f,
        qPrintable(QString("%1 %2 %3").arg(even.unevenness).arg(side.unevenness).arg(side.brightSide.x())));
  }
  void makingCanBeCancelled() {
    int calls = 0;
    const auto cancelled =
        demo::makeSculpt(demo::Figure::Keeper, 300'000, [&](float) { return ++calls < 3; });
    QVERIFY(!cancelled && isCancelled(cancelled.error()));
  }
  void isosurfaceOfASphereLiesOnIt() {
    Box box;
    box.add(Vec3::Constant(-12));
    box.add(Vec3::Constant(12));
    const auto quads = demo::isosurface(
        [](const Vec3& p) {
          return demo::sphere(p, {0, 0, 0}, 10);
        },
        box, 0.7f, {});
    QVERIFY(quads);
    for (const Vec3& v : quads->vertices) QVERIFY(std::abs(v.norm() - 10) < 0.01f);
    // Euler: a closed sphere of quads has V − F = 2
    QCOMPARE(quads->vertices.size(), quads->quads.size() + 2);
    for (const auto& q : quads->quads) {
      const Vec3 n = (quads->vertices[q[1]] - quads->vertices[q[0]])
                         .cross(quads->vertices[q[2]] - quads->vertices[q[0]]);
      QVERIFY(n.dot(quads->vertices[q[0]]) > 0);
    }
  }
  // What ships is sound: it comes back from its JSON, fits every head alike, and finds all it asks for on a
  // face.
  void recipesThatShipLieOnAHead() {
    const auto sculpt = std::make_shared<const Sculpt>(*demo::makeSculpt(demo::Figure::Keeper, 8000));
    Document head = newDocument(sculpt, *buildSurface(*sculpt));
    head.landmarks = demo::landmarksOf(demo::Figure::Keeper);
    LayingSetting asIs;
    asIs.addPoints = false;
    QCOMPARE(demo::shippedRecipes().size(), size_t{9});
    for (const auto& [key, recipe] : demo::shippedRecipes()) {
      QCOMPARE(demo::shippedRecipe(key), &recipe);
      const auto again = recipeFrom(nlohmann::json::parse(toJson(recipe).dump()));
      QVERIFY2(again, again ? "" : again.error().what.c_str());
      QVERIFY(again->name == recipe.name && again->layers.size() == recipe.layers.size());
      for (size_t i = 0; i < recipe.layers.size(); ++i) {
        const Layer &was = *recipe.layers[i].layer, &is = *again->layers[i].layer;
        QVERIFY(is.name == was.name && is.stratum == was.stratum && is.blend == was.blend);
        QCOMPARE(&is.source->kind(), &was.source->kind());
        // ways may come back a digit longer or shorter; nothing else changes, and nothing is gone
        QCOMPARE(is.source->parameters().size(), was.source->parameters().size());
        QCOMPARE(is.source->zones() ? is.source->zones()->zones.size() : 0,
                 was.source->zones() ? was.source->zones()->zones.size() : 0);
        QCOMPARE(again->layers[i].leaveOut, recipe.layers[i].leaveOut);
      }
      QVERIFY(recipe.spacing > 0 && recipe.layers.size() >= 4);
      const auto laid = layRecipe(head, recipe, asIs);
      QVERIFY(laid);
      QCOMPARE(laid->document.layers.size(), recipe.layers.size());
      // but for the points
      for (const std::string& missing : laid->missing)
        QVERIFY2(missing.starts_with("points"), missing.c_str());
      const auto stack = prepared(laid->document.layers, *laid->document.maps);
      QVERIFY(stack && withoutTrouble(*stack));
    }
    QVERIFY(!demo::shippedRecipe("wood"));
  }
  // Perlin 2002: zero on the lattice, mean zero; Worley 1996: the first distance never exceeds the second.
  void noiseHasItsMoments() {
    double sum = 0, square = 0;
    constexpr int n = 20'000;
    std::mt19937 random(3);
    std::uniform_real_distribution<float> place(-40, 40);
    for (int i = 0; i < n; ++i) {
      const Vec3 p(place(random), place(random), place(random));
      const double v = static_cast<double>(perlin(p, 9));
      sum += v;
      square += v * v;
      const Cells c = worley(p, 9);
      QVERIFY(c.first >= 0 && c.first <= c.second && c.first < 1.74f);
    }
    QVERIFY(std::abs(sum / n) < 0.02);
    QVERIFY(square / n > 0.03 && square / n < 0.15);
    QCOMPARE(perlin({3, -7, 12}, 9), 0.f);
    QVERIFY(perlin({3.3f, -7.1f, 12.6f}, 9) != perlin({3.3f, -7.1f, 12.6f}, 10));
  }
};

JUVENOR_TEST(TestDemo)
}  // namespace juvenor
#include "test_demo.moc"
