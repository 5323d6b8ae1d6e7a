// Refining round: added points lie on curved patches through the vertices, so that a coarse sculpt does not
// show its facets, in its shape or in the maps measured on it. The judge is a sphere.
#include <map>

#include "core/document/edits/edits.h"
#include "core/render/still.h"
#include "core/surface/maps/surface_maps.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// An icosahedron whose faces were cut into four `times` times, all vertices on a sphere of radius 10.
Sculpt icosphere(int times) {
  const float g = (1 + std::sqrt(5.f)) / 2;
  std::vector<Vec3> v{{-1, g, 0},  {1, g, 0},  {-1, -g, 0}, {1, -g, 0}, {0, -1, g},  {0, 1, g},
                      {0, -1, -g}, {0, 1, -g}, {g, 0, -1},  {g, 0, 1},  {-g, 0, -1}, {-g, 0, 1}};
  std::vector<Triangle> t{{0, 11, 5},  {0, 5, 1},  {0, 1, 7},  {0, 7, 10}, {0, 10, 11}, {1, 5, 9}, {5, 11, 4},
                          {11, 10, 2}, {10, 7, 6}, {7, 1, 8},  {3, 9, 4},  {3, 4, 2},   {3, 2, 6}, {3, 6, 8},
                          {3, 8, 9},   {4, 9, 5},  {2, 4, 11}, {6, 2, 10}, {8, 6, 7},   {9, 8, 1}};
  for (Vec3& p : v) p = 10 * p.normalized();
  for (int k = 0; k < times; ++k) {
    std::map<std::pair<uint32_t, uint32_t>, uint32_t> mid;
    const auto middle = [&](uint32_t a, uint32_t b) {
      const auto [it, fresh] = mid.try_emplace(std::minmax(a, b), static_cast<uint32_t>(v.size()));
      if (fresh) v.push_back(10 * (v[a] + v[b]).normalized());
      return it->second;
    };
    std::vector<Triangle> next;
    for (const auto& [a, b, c] : t) {
      const uint32_t ab = middle(a, b), bc = middle(b, c), ca = middle(c, a);
      next.insert(next.end(), {{a, ab, ca}, {ab, b, bc}, {ca, bc, c}, {ab, bc, ca}});
    }
    t = std::move(next);
  }
  Sculpt out;
  out.vertices = v;
  out.polygonStart.push_back(0);
  for (const Triangle& c : t) {
    out.corners.insert(out.corners.end(), c.begin(), c.end());
    out.polygonStart.push_back(static_cast<uint32_t>(out.corners.size()));
  }
  (void)finishSculpt(out, "icosphere");
  return out;
}

std::shared_ptr<const Surface> refinedRound(const Sculpt& sculpt, int times) {
  auto surface = test::surfaceOf(sculpt);
  for (int k = 0; k < times; ++k) surface = refine(*surface, {0, RefineShape::Round})->surface;
  return surface;
}

}  // namespace

class TestRound : public QObject {
  Q_OBJECT
 private slots:
  void aCoarseSphereBecomesTheFineOne() {
    const Sculpt coarse = icosphere(3);
    QCOMPARE(coarse.vertices.size(), size_t{642});
    const auto round = refinedRound(coarse, 3);
    QCOMPARE(round->size(), size_t{40'962});
    float worst = 0, worstNormal = 1;
    for (size_t s = 0; s < round->size(); ++s) {
      worst = std::max(worst, std::abs(round->positions[s].norm() - 10));
      worstNormal = std::min(worstNormal, round->normals[s].dot(round->positions[s].normalized()));
    }
    qInfo("farthest from the sphere %.5f of a radius of 10, normals within %.3f°", double(worst),
          double(std::acos(std::min(1.f, worstNormal)) * 57.29578f));
    QVERIFY(worst < 0.006f);
    QVERIFY(worstNormal > std::cos(1.f / 57.29578f));
    // those that were there have not moved
    for (size_t v = 0; v < coarse.vertices.size(); ++v)
      QVERIFY(round->positions[round->sampleOfVertex[v]] == coarse.vertices[v]);
  }
  void clayShowsNoFacets() {
    Document round = test::documentOf(icosphere(3));
    for (int k = 0; k < 3; ++k) round = *withRefinement(round, {0, RefineShape::Round});
    const Document fine = test::documentOf(icosphere(6));
    StillSetting setting;
    setting.size = {200, 200};
    setting.view = View::Clay;
    setting.background = 0xffff00ff;
    setting.camera = framed({}, setting.size, fine.surface->bounds);
    const auto a = stillOf(round, setting), b = stillOf(fine, setting);
    QVERIFY(a && b);
    int worst = 0;
    // inside: the rim is a matter of half pixels
    for (int y = 0; y < 200; ++y)
      for (int x = 0; x < 200; ++x) {
        const size_t i = static_cast<size_t>(y * 200 + x);
        if (std::hypot(x - 100, y - 100) > 50) continue;
        QVERIFY((*b)[i] != setting.background && (*a)[i] != setting.background);
        worst = std::max(worst, std::abs(int((*a)[i] & 0xff) - int((*b)[i] & 0xff)));
      }
    qInfo("worst difference in clay: %d of 255", worst);
    QVERIFY2(worst <= 4, qPrintable(QString::number(worst)));
  }
  void mapsShowNoFacets() {
    SurfaceMaps round(refinedRound(icosphere(3), 3)), fine(test::surfaceOf(icosphere(6)));
    for (const MapKind* kind : {&kRidgeMap, &kCavityMap}) {
      const MapSetting setting{kind, 4, Vec3::UnitY()};
      const auto a = round.map(setting), b = fine.map(setting);
      QVERIFY(a && b);
      const auto [low, high] = std::ranges::minmax(**a);
      const double whole = kind == &kRidgeMap ? 0.4 : 0;  // scale over radius
      qInfo("%s: %.4f to %.4f", kind->key.data(), low / 65535.0, high / 65535.0);
      QVERIFY(std::abs(low / 65535.0 - whole) < 0.03 && std::abs(high / 65535.0 - whole) < 0.03);
    }
  }
  void flatKeepsTheFacesButCarriesNormals() {
    const auto coarse = test::surfaceOf(icosphere(2));
    const auto flat = refine(*coarse, {0, RefineShape::Flat})->surface;
    float inside = 0;
    for (size_t s = 0; s < flat->size(); ++s) {
      inside = std::max(inside, 10 - flat->positions[s].norm());
      // a facet's own normal would be off by up to 11 degrees here
      QVERIFY(flat->normals[s].dot(flat->positions[s].normalized()) > std::cos(3.f / 57.29578f));
    }
    QVERIFY(inside > 0.1f);
  }
  // A box stays a box: its edges part by 90 degrees. With a crease beyond that they are rounded.
  void sharpEdgesStaySharp() {
    const auto box = test::surfaceOf(test::box(2, {10, 10, 10}));
    const auto sharp = refine(*box, {0, RefineShape::Round, 40})->surface;
    for (const Vec3& p : sharp->positions) QVERIFY(std::abs(p.cwiseAbs().maxCoeff() - 5) < 1e-5f);
    const auto soft = refine(*box, {0, RefineShape::Round, 120})->surface;
    float most = 0;
    for (const Vec3& p : soft->positions) most = std::max(most, p.cwiseAbs().maxCoeff());
    QVERIFY(most > 5.05f);
  }
  void downToASpacingRound() {
    const auto round = refine(*test::surfaceOf(icosphere(2)), {0.5f, RefineShape::Round});
    QVERIFY(round);
    for (const Vec3& p : round->surface->positions) QVERIFY(std::abs(p.norm() - 10) < 0.06f);
    QVERIFY(round->surface->spacing < 0.6f);
  }
  void whatWillComeIsToldBefore() {
    const auto s = test::surfaceOf(icosphere(3));
    QCOMPARE(samplesAfter(*s, {}), refine(*s, {})->surface->size());
    for (const float spacing : {0.4f, 0.25f}) {
      const double told = static_cast<double>(samplesAfter(*s, {spacing})),
                   came = static_cast<double>(refine(*s, {spacing})->surface->size());
      QVERIFY2(told / came > 0.5 && told / came < 2, qPrintable(QString("%1 %2").arg(told).arg(came)));
    }
    QVERIFY(!refine(*s, {}, 2000));
  }
};

JUVENOR_TEST(TestRound)
}  // namespace juvenor
#include "test_round.moc"
