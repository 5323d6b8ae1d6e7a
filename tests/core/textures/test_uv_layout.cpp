// What a UV layout is found to be, against forms whose layouts are known in closed form: a plane, an unrolled
// cylinder, an octant of a sphere, a folded strip.
#include <cmath>
#include <limits>

#include "core/textures/cover_tiles.h"
#include "core/textures/uv_layout.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// A sheet of cells × cells quads over the unit square of UVs, bent to a form; laid out by `layout`.
template <class Form, class Layout>
Sculpt sheet(int cells, Form form, Layout layout) {
  Sculpt out = test::plane(cells, 1);
  UvSet uv{"UV", {}, out.corners};
  for (Vec3& v : out.vertices) {
    const Vec2 at(v.x() + 0.5f, v.y() + 0.5f);
    uv.coordinates.push_back(layout(at));
    v = form(at);
  }
  out.uvSets.push_back(std::move(uv));
  return out;
}
Vec3 flat(const Vec2& at) {
  return {10 * at.x(), 10 * at.y(), 0};
}

UvLayout layoutOf(const Sculpt& sculpt) {
  auto out = uvLayout(sculpt, 0);
  if (!out) qFatal("%s", out.error().what.c_str());
  return std::move(*out);
}

}  // namespace

class TestUvLayout : public QObject {
  Q_OBJECT
 private slots:
  void tilesAreNumberedAsUdimHasThem() {
    const std::pair<Vec2, int> known[] = {{{0.5f, 0.5f}, 1001},
                                          {{9.5f, 0.5f}, 1010},
                                          {{0.5f, 1.5f}, 1011},
                                          {{3.2f, 12.7f}, 1124},
                                          {{8, 899}, 9999}};
    for (const auto& [at, number] : known) QCOMPARE(tileOf(at).value_or(0), number);
    for (const Vec2& at : {Vec2(-0.1f, 0), Vec2(10, 0), Vec2(0, -1), Vec2(9.5f, 899), Vec2(0, 1e30f),
                           Vec2(std::numeric_limits<float>::quiet_NaN(), 0)})
      QVERIFY(!tileOf(at));
  }
  // A quarter of a tile, turned too: every pixel of it once, on the edges between triangles neither twice nor
  // never.
  void aPlaneIsOneIslandWithoutStretch() {
    for (const float degrees : {0.f, 30.f, 61.f}) {
      const Eigen::Rotation2Df turn(degrees * static_cast<float>(M_PI) / 180);
      const UvLayout l = layoutOf(sheet(37, flat, [&](const Vec2& at) {
        return Vec2(turn * (0.5f * (at - Vec2(0.5f, 0.5f))) + Vec2(0.5f, 0.5f));
      }));
      QCOMPARE(l.islands.size(), size_t{1});
      QCOMPARE(l.tiles.size(), size_t{1});
      QCOMPARE(l.tiles[0].number, 1001);
      QVERIFY2(std::abs(l.tiles[0].filled - 0.25f) < 1e-4f, qPrintable(QString::number(l.tiles[0].filled)));
      QCOMPARE(l.tiles[0].doubled, 0.f);
      QVERIFY(std::abs(l.islands[0].area - 0.25) < 1e-6 && std::abs(l.islands[0].skin - 100) < 1e-3);
      QVERIFY(!l.islands[0].mirrored);
      QVERIFY(std::abs(l.stretch - 1) < 1e-3f && std::abs(l.worst - 1) < 1e-2f);
      for (const float density : {l.thin, l.middle, l.dense}) QVERIFY(std::abs(density / 0.05f - 1) < 1e-2f);
      QVERIFY(l.missing + l.folded + l.flat + l.outside == 0);
    }
  }
  void mirroredAndFoldedAreTold() {
    const UvLayout mirrored =
        layoutOf(sheet(10, flat, [](const Vec2& at) { return Vec2(1 - at.x(), at.y()); }));
    QVERIFY(mirrored.islands[0].mirrored);
    QCOMPARE(mirrored.folded, size_t{0});
    // a strip whose last fifth is turned back over the rest
    const UvLayout folded = layoutOf(
        sheet(10, flat, [](const Vec2& at) { return Vec2(at.x() < 0.8f ? at.x() : 1.6f - at.x(), at.y()); }));
    QCOMPARE(folded.islands.size(), size_t{1});
    QVERIFY(!folded.islands[0].mirrored);
    QCOMPARE(folded.folded, size_t{2 * 2 * 10});
    QVERIFY2(std::abs(folded.tiles[0].doubled - 0.2f) < 2e-3f,
             qPrintable(QString::number(folded.tiles[0].doubled)));
    QVERIFY(std::abs(folded.tiles[0].filled - 0.8f) < 2e-3f);
  }
  // Unrolled it keeps every length: its quads are as narrow as chords are shorter than arcs.
  void aCylinderUnrolls() {
    const auto round = [](const Vec2& at) {
      const float a = static_cast<float>(M_PI) * at.x();
      return Vec3(5 * std::cos(a), 5 * std::sin(a), 10 * at.y());
    };
    const UvLayout l = layoutOf(sheet(
        90, round, [](const Vec2& at) { return Vec2(at.x() * static_cast<float>(M_PI) / 4, at.y() / 2); }));
    QVERIFY2(std::abs(l.stretch - 1) < 1e-3f && std::abs(l.worst - 1) < 2e-2f,
             qPrintable(QString("%1 %2").arg(l.stretch).arg(l.worst)));
    QVERIFY(std::abs(l.middle / 0.05f - 1) < 1e-2f);
  }
  // Longitude and latitude over a square: the mean of the squared singular values over the skin is 5/6 of the
  // squared radius, the layout has π/2 of the area; the equator is drawn out most.
  void anOctantOfASphereIsAsStretchedAsItsIntegral() {
    const auto octant = [](const Vec2& at) {
      const float a = static_cast<float>(M_PI) / 2 * at.x(), down = static_cast<float>(M_PI) / 2 * at.y();
      return Vec3(7 * std::sin(down) * std::cos(a), 7 * std::sin(down) * std::sin(a), 7 * std::cos(down));
    };
    const UvLayout l = layoutOf(sheet(160, octant, [](const Vec2& at) { return at; }));
    const double expected = std::sqrt(5.0 / 6 * M_PI / 2), worst = std::sqrt(M_PI / 2);
    QVERIFY2(std::abs(static_cast<double>(l.stretch) / expected - 1) < 3e-3,
             qPrintable(QString("%1, not %2").arg(l.stretch).arg(expected)));
    QVERIFY2(std::abs(static_cast<double>(l.worst) / worst - 1) < 1e-2,
             qPrintable(QString("%1, not %2").arg(l.worst).arg(worst)));
    QVERIFY(l.thin < l.middle && l.middle < l.dense);
  }
  // Two sheets in the same place, a third in the tile above, cut off from each other by their parts.
  void islandsTilesAndOverlapsAreCounted() {
    Sculpt a = sheet(8, flat, [](const Vec2& at) { return Vec2(0.5f * at); });
    Sculpt b = sheet(8, flat, [](const Vec2& at) { return Vec2(0.5f * at + Vec2(0, 1)); });
    b.parts = {"Other"};
    Sculpt all = test::together(test::together(a, a), b);
    // (what `together` leaves out)
    UvSet uv{"UV", {}, all.corners};
    for (const Sculpt* s : {&a, &a, &b})
      uv.coordinates.insert(uv.coordinates.end(), s->uvSets[0].coordinates.begin(),
                            s->uvSets[0].coordinates.end());
    all.uvSets = {uv};
    const UvLayout l = layoutOf(all);
    QCOMPARE(l.islands.size(), size_t{3});
    QCOMPARE(l.tiles.size(), size_t{2});
    QCOMPARE(l.tiles[0].number, 1001);
    QCOMPARE(l.tiles[1].number, 1011);
    QCOMPARE(l.tiles[0].filled, 0.25f);
    QCOMPARE(l.tiles[0].doubled, 0.25f);
    QCOMPARE(l.tiles[1].doubled, 0.f);
  }
  // A layout that repeats its places corner by corner, as some files have it, is as much in one piece.
  void repeatedPlacesAreOne() {
    Sculpt once = sheet(12, flat, [](const Vec2&at) { return at; }), each = once;
    UvSet& uv = each.uvSets[0];
    std::vector<Vec2> places;
    for (uint32_t& corner : uv.corner) {
      places.push_back(uv.coordinates[corner]);
      corner = static_cast<uint32_t>(places.size() - 1);
    }
    uv.coordinates = std::move(places);
    QCOMPARE(layoutOf(each).islands.size(), size_t{1});
    // and cut through the middle it is in two
    Sculpt cut = sheet(12, flat, [](const Vec2& at) { return Vec2(0.4f * at); });
    const size_t half = cut.uvSets[0].coordinates.size();
    for (size_t i = 0; i < half; ++i)
      cut.uvSets[0].coordinates.push_back(cut.uvSets[0].coordinates[i] + Vec2(0.5f, 0.5f));
    for (size_t p = 0; p < cut.polygonCount(); ++p) {
      float x = 0;
      for (const uint32_t v : cut.polygon(p)) x += cut.vertices[v].x();
      if (x / 4 > 5)
        for (size_t k = cut.polygonStart[p]; k < cut.polygonStart[p + 1]; ++k)
          cut.uvSets[0].corner[k] += static_cast<uint32_t>(half);
    }
    QCOMPARE(layoutOf(cut).islands.size(), size_t{2});
  }
  void strangePlacesAreTold() {
    Sculpt s = sheet(6, flat, [](const Vec2& at) { return at; });
    UvSet& uv = s.uvSets[0];
    uv.coordinates[uv.corner[0]] = {std::numeric_limits<float>::quiet_NaN(), 0};
    uv.corner[s.polygonStart[20]] = kNone;
    uv.coordinates[uv.corner[s.polygonStart[35] + 2]] = {1e30f, -1e30f};
    const UvLayout l = layoutOf(s);
    QVERIFY2(l.missing >= 2 && l.missing < 6, qPrintable(QString::number(l.missing)));
    QVERIFY(l.outside >= 1 && l.outside < 8);
    QVERIFY(l.tiles.size() >= 1 && l.tiles.front().filled > 0.5f);
    QVERIFY(std::isfinite(l.middle));
    // all in one place
    const UvLayout none = layoutOf(sheet(4, flat, [](const Vec2&) { return Vec2(0.5f, 0.5f); }));
    QCOMPARE(none.flat, none.triangles);
    QCOMPARE(none.tiles.size(), size_t{0});
  }
  void canBeCancelled() {
    const Sculpt s = sheet(20, flat, [](const Vec2& at) { return at; });
    for (int after = 0; after < 3; ++after) {
      int calls = 0;
      const auto cut = uvLayout(s, 0, [&](float) { return calls++ < after; });
      QVERIFY(!cut && isCancelled(cut.error()));
    }
  }
};

JUVENOR_TEST(TestUvLayout)
}  // namespace juvenor
#include "test_uv_layout.moc"
