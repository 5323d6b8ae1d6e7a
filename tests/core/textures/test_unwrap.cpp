// UV sets made by unwrapping: every polygon has a place in the tile, nothing lies on anything else (counted
// by pixels), little is stretched, and islands keep their distance.
#include <cmath>
#include <random>

#include "core/textures/attach_charts.h"
#include "core/textures/cover_tiles.h"
#include "core/textures/flatten.h"
#include "core/textures/unwrap.h"
#include "core/textures/uv_layout.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Unwrapped unwrappedOrDie(const Sculpt& sculpt, const UnwrapSetting& setting = {}) {
  auto out = unwrapped(sculpt, setting);
  if (!out) qFatal("%s", out.error().message().c_str());
  return std::move(*out);
}

// Bumps all over a ball, as sculpted skin has.
Sculpt bumpy(int rings) {
  Sculpt out = test::sphere(rings, 50);
  for (Vec3& v : out.vertices) {
    const Vec3 n = v.normalized();
    v +=
        (4 * std::sin(7 * n.x()) * std::cos(5 * n.y()) + 0.6f * std::sin(40 * n.z()) * std::sin(37 * n.y())) *
        n;
  }
  return out;
}

Sculpt made(const QString& name) {
  if (name == "plane") return test::plane(20, 10);
  if (name == "ball") return test::sphere(60, 10);
  if (name == "ring") return test::torus(40, 10, 3);
  if (name == "tube") return test::cylinder(40, 3, 20);
  if (name == "box") return test::box(12, Vec3(3, 5, 8));
  if (name == "bumpy ball") return bumpy(60);
  if (name == "parts") return test::together(test::sphere(30, 10), test::torus(18, 20, 2));
  if (name == "soup") return test::soup(test::sphere(30, 10));
  return test::oddities(5);
}

}  // namespace

class TestUnwrap : public QObject {
  Q_OBJECT
 private slots:
  void liesFlatAndApart_data() {
    QTest::addColumn<float>("mostStretch");
    QTest::addColumn<float>("leastFilled");
    QTest::addRow("plane") << 1.001f << 0.85f;
    QTest::addRow("ball") << 1.06f << 0.45f;  // two discs fill a square by 54 %
    QTest::addRow("ring") << 1.15f << 0.5f;
    QTest::addRow("tube") << 1.15f << 0.5f;
    QTest::addRow("box") << 1.1f << 0.5f;
    QTest::addRow("bumpy ball") << 1.15f << 0.5f;
    QTest::addRow("parts") << 1.15f << 0.45f;
    QTest::addRow("soup") << 1.06f << 0.45f;
    QTest::addRow("oddities") << 1.2f << 0.2f;
  }
  void liesFlatAndApart() {
    QFETCH(float, mostStretch);
    QFETCH(float, leastFilled);
    Sculpt sculpt = made(QTest::currentDataTag());
    const Unwrapped u = unwrappedOrDie(sculpt);
    sculpt.uvSets = {u.set};
    const auto layout = uvLayout(sculpt, 0);
    QVERIFY(layout);
    QCOMPARE(layout->missing, size_t{0});
    QCOMPARE(layout->outside, size_t{0});
    QCOMPARE(layout->tiles.size(), size_t{1});
    QVERIFY2(layout->stretch <= mostStretch, qPrintable(QString("stretch %1").arg(layout->stretch)));
    QVERIFY2(std::abs(layout->stretch - u.stretch) < 0.02f, qPrintable(QString("told %1").arg(u.stretch)));
    const auto tiles = coverTiles(uvTriangles(sculpt, 0).triangles, 4096);
    QVERIFY(tiles);
    QVERIFY2((*tiles)[0].filled >= leastFilled, qPrintable(QString("filled %1").arg((*tiles)[0].filled)));
    QVERIFY2((*tiles)[0].doubled == 0, qPrintable(QString("doubled %1").arg((*tiles)[0].doubled)));
    for (const UvIsland& i : layout->islands) QVERIFY(!i.mirrored);
  }
  // Another unwrap of the same is the same to the bit, whatever the threads do.
  void isTheSameEachTime_data() {
    QTest::addColumn<int>("coarse");
    QTest::addRow("cut as it is") << 60'000;
    QTest::addRow("cut on a coarse mesh") << 1000;
  }
  void isTheSameEachTime() {
    QFETCH(int, coarse);
    const Sculpt sculpt = bumpy(40);
    UnwrapSetting setting;
    setting.coarse = static_cast<size_t>(coarse);
    const Unwrapped a = unwrappedOrDie(sculpt, setting), b = unwrappedOrDie(sculpt, setting);
    QVERIFY(a.set.corner == b.set.corner);
    QVERIFY(a.set.coordinates == b.set.coordinates);
  }
  // Cuts sought on a coarse mesh: hardly more islands than there, as well laid, and quads stay whole.
  void aFineMeshIsCutWhereACoarseOneIs() {
    Sculpt sculpt = test::together(bumpy(40), test::torus(24, 90, 20));
    const Unwrapped direct = unwrappedOrDie(sculpt);
    UnwrapSetting setting;
    setting.coarse = 1500;
    const Unwrapped u = unwrappedOrDie(sculpt, setting);
    QVERIFY2(u.islands <= direct.islands,
             qPrintable(QString("%1 for %2").arg(u.islands).arg(direct.islands)));
    sculpt.uvSets = {u.set};
    const auto layout = uvLayout(sculpt, 0);
    QVERIFY(layout && layout->outside == 0 && layout->missing == 0);
    QVERIFY2(layout->stretch <= 1.15f, qPrintable(QString("stretch %1").arg(layout->stretch)));
    const auto tiles = coverTiles(uvTriangles(sculpt, 0).triangles, 4096);
    QVERIFY(tiles && (*tiles)[0].filled >= 0.5f);
    QCOMPARE((*tiles)[0].doubled, size_t{0});
    // a corner of a polygon lies where that polygon's other corners lie
    for (size_t p = 0; p < sculpt.polygonCount(); ++p)
      for (uint32_t c = sculpt.polygonStart[p]; c < sculpt.polygonStart[p + 1]; ++c) {
        const Vec2 way =
            u.set.coordinates[u.set.corner[c]] - u.set.coordinates[u.set.corner[sculpt.polygonStart[p]]];
        QVERIFY(way.norm() < 0.1f);
      }
  }
  // What came off because it lay over something goes to a neighbour where it fits, and stays apart where not.
  void splintersAreLaidOntoTheirNeighbour() {
    const auto surface = test::surfaceOf(test::plane(10, 10));
    std::vector<uint32_t> polygons(surface->triangles.size()), most, few;
    for (uint32_t t = 0; t < polygons.size(); ++t) {
      polygons[t] = t / 2;
      const Triangle& v = surface->triangles[t];
      const Vec3 middle =
          (surface->positions[v[0]] + surface->positions[v[1]] + surface->positions[v[2]]) / 3;
      (middle.x() < -3 && middle.y() < -3 ? few : most).push_back(t);
    }
    const ChartMesh mesh = chartMesh(surface->positions, surface->triangles, polygons, {});
    const auto charts = [&] { return std::vector{*flattened(mesh, most, 2), *flattened(mesh, few, 2)}; };
    const auto joined = withSplintersAttached(mesh, charts(), few.size() + 1);
    QVERIFY(joined && joined->size() == 1);
    QCOMPARE((*joined)[0].triangles.size(), polygons.size());
    QVERIFY(overOthers((*joined)[0]).empty());
    QVERIFY(std::abs((*joined)[0].area - 100) < 0.1);
    // where something lies already
    auto crowded = charts();
    const Vec2 there = (*joined)[0].corners.back()[0];
    const auto far = std::ranges::find_if(crowded[0].triangles, [&](uint32_t t) {
      return surface->positions[surface->triangles[t][0]].x() > 2;
    });
    auto& moved = crowded[0].corners[static_cast<size_t>(far - crowded[0].triangles.begin())];
    const Vec2 from = moved[0];
    for (Vec2& p : moved) p = there + (p - from);
    const auto apart = withSplintersAttached(mesh, std::move(crowded), few.size() + 1);
    QVERIFY(apart && apart->size() == 2);
    const auto large = withSplintersAttached(mesh, charts(), few.size());
    QVERIFY(large && large->size() == 2);
  }
  void manyTilesShareThem() {
    Sculpt sculpt = bumpy(60);
    UnwrapSetting setting;
    setting.tiles = 4;
    setting.mostStretch = 1.02f;
    const Unwrapped u = unwrappedOrDie(sculpt, setting);
    sculpt.uvSets = {u.set};
    const auto layout = uvLayout(sculpt, 0);
    QVERIFY(layout && layout->outside == 0);
    QVERIFY2(layout->tiles.size() >= 3, qPrintable(QString::number(layout->tiles.size())));
    for (const UvTile& t : layout->tiles) QVERIFY(t.number >= 1001 && t.number <= 1004 && t.doubled == 0);
  }
  // A map on a circle has no folds, whatever its inside looks like; and none comes in by making it rigid.
  void nothingFolds() {
    Sculpt sheet = test::plane(30, 10);
    std::mt19937 random(3);
    std::uniform_real_distribution<float> any(-0.4f, 0.4f);
    for (Vec3& v : sheet.vertices) v += Vec3(0.2f * any(random), 0.2f * any(random), any(random));
    const auto surface = test::surfaceOf(sheet);
    std::vector<uint32_t> polygons(surface->triangles.size()), all(polygons.size());
    for (uint32_t t = 0; t < all.size(); ++t) polygons[t] = all[t] = t;
    const ChartMesh mesh = chartMesh(surface->positions, surface->triangles, polygons, {});
    const auto chart = flattened(mesh, all, 3);
    QVERIFY(chart);
    for (const auto& c : chart->corners) {
      const Vec2 a = c[1] - c[0], b = c[2] - c[0];
      QVERIFY(a.x() * b.y() - a.y() * b.x() > 0);
    }
    // what is closed, or has a handle, is no disc
    const auto ball = test::surfaceOf(test::sphere(8, 1));
    std::vector<uint32_t> every(ball->triangles.size());
    for (uint32_t t = 0; t < every.size(); ++t) every[t] = t;
    QVERIFY(!flattened(chartMesh(ball->positions, ball->triangles, every, {}), every, 100));
  }
  void whatHasNoAreaIsTold() {
    Sculpt flat = test::plane(4, 10);
    for (Vec3& v : flat.vertices) v = Vec3(1, 2, 3);
    const auto out = unwrapped(flat, {});
    QVERIFY(!out);
    QVERIFY(out.error().message().find("no triangle with an area") != std::string::npos);
    int calls = 0;
    const auto cancelled = unwrapped(bumpy(40), {}, {}, [&](float) { return ++calls < 3; });
    QVERIFY(!cancelled && isCancelled(cancelled.error()));
  }
};

JUVENOR_TEST(TestUnwrap)
}  // namespace juvenor
#include "test_unwrap.moc"
