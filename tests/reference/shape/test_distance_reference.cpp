// Distance along the skin of the demo head against CGAL: exact shortest paths (Xin and Wang 2009) and the
// heat method (Crane, Weischedel, Wardetzky 2013); and the look of one set of hue zones on two densities of
// it.
#include <CGAL/Heat_method_3/Surface_mesh_geodesic_distances_3.h>
#include <CGAL/Simple_cartesian.h>
#include <CGAL/Surface_mesh.h>
#include <CGAL/Surface_mesh_shortest_path.h>

#include "core/color/lab.h"
#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/surface/build/search.h"
#include "core/surface/distance/coarse_distance.h"
#include "demo/demo.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

using Kernel = CGAL::Simple_cartesian<double>;
using Mesh = CGAL::Surface_mesh<Kernel::Point_3>;

std::shared_ptr<const Surface> keeper(size_t points) {
  return test::surfaceOf(*demo::makeSculpt(demo::Figure::Keeper, points));
}

// The largest part of the surface as a mesh of its own, and the sample of each vertex.
Mesh meshOf(const Surface& s, std::vector<uint32_t>& sampleOf) {
  Mesh mesh;
  std::vector<Mesh::Vertex_index> vertexOf(s.size());
  for (uint32_t i = 0; i < s.size(); ++i) {
    if (s.parts[i] != 0) continue;
    const Vec3& p = s.positions[i];
    vertexOf[i] =
        mesh.add_vertex({static_cast<double>(p.x()), static_cast<double>(p.y()), static_cast<double>(p.z())});
    sampleOf.push_back(i);
  }
  for (size_t t = 0; t < s.triangles.size(); ++t)
    if (s.triangleParts[t] == 0)
      mesh.add_face(vertexOf[s.triangles[t][0]], vertexOf[s.triangles[t][1]], vertexOf[s.triangles[t][2]]);
  return mesh;
}

}  // namespace

class TestDistanceReference : public QObject {
  Q_OBJECT
 private slots:
  void agreesWithExactPathsAndTheHeatMethod() {
    const auto s = keeper(12'000);
    std::vector<uint32_t> sampleOf;
    Mesh mesh = meshOf(*s, sampleOf);
    // the nose's tip
    size_t source = 0;
    for (size_t i = 0; i < sampleOf.size(); ++i)
      if (s->positions[sampleOf[i]].z() > s->positions[sampleOf[source]].z()) source = i;
    const Mesh::Vertex_index start(static_cast<uint32_t>(source));
    constexpr float kReach = 105;
    const Distances ours = distancesFrom(*s, s->positions[sampleOf[source]], 0, kReach);
    QVERIFY(ours.samples.size() > 1500);
    std::vector<double> heat(mesh.number_of_vertices());
    {
      auto property = mesh.add_property_map<Mesh::Vertex_index, double>("v:heat", 0).first;
      CGAL::Heat_method_3::estimate_geodesic_distances(mesh, property, start);
      for (const auto v : mesh.vertices()) heat[v] = property[v];
    }
    CGAL::Surface_mesh_shortest_path<CGAL::Surface_mesh_shortest_path_traits<Kernel, Mesh>> exact(mesh);
    exact.add_source_point(start);
    double sum = 0, byHeat = 0, longest = 0, worst = 0;
    size_t count = 0;
    for (size_t v = 0; v < sampleOf.size(); v += 9) {
      const auto found = std::ranges::lower_bound(ours.samples, sampleOf[v]);
      if (found == ours.samples.end() || *found != sampleOf[v]) continue;
      const double mine = static_cast<double>(ours.values[static_cast<size_t>(found - ours.samples.begin())]);
      const double truth =
          exact.shortest_distance_to_source_points(Mesh::Vertex_index(static_cast<uint32_t>(v))).first;
      sum += std::abs(mine - truth);
      byHeat += std::abs(heat[v] - truth);
      worst = std::max(worst, std::abs(mine - truth));
      longest += truth;
      ++count;
    }
    qInfo(
        "%zu places: mean error %.3f %% of the mean distance, worst %.2f mm; the heat method's mean error "
        "%.3f %%",
        count, 100 * sum / longest, worst, 100 * byHeat / longest);
    QVERIFY(count > 150);
    QVERIFY2(sum / longest < 0.01, qPrintable(QString::number(sum / longest)));
    // the judge is sound, and marching is the better of the two on skin
    QVERIFY2(byHeat / longest < 0.03, qPrintable(QString::number(byHeat / longest)));
    QVERIFY(sum < byHeat);
  }
  // On the head: the coarser skin large zones are measured on against the samples themselves.
  void coarseSkinAgreesWithTheSamples() {
    const auto s = keeper(200'000);
    const CoarseSkin coarse =
        coarseSkin(std::make_shared<const SkinLadder>(skinLadder(skinGraph(*s), s->spacing)), 1);
    const auto tip = std::ranges::max_element(s->positions, {}, [](const Vec3& p) { return p.z(); });
    const std::array places{*tip};
    const Distances fine = distancesFrom(*s, places[0], 0, 90),
                    ours = distancesFrom(edgesOf(*s), coarse, test::sourcesOn(*s, places), 90);
    std::vector<float> at(s->size(), -1.f);
    for (size_t i = 0; i < fine.samples.size(); ++i) at[fine.samples[i]] = fine.values[i];
    double sum = 0, signedSum = 0, longest = 0;
    size_t count = 0;
    for (size_t i = 0; i < ours.samples.size(); ++i) {
      const float there = at[ours.samples[i]];
      if (there < 0) continue;
      sum += static_cast<double>(std::abs(ours.values[i] - there));
      signedSum += static_cast<double>(ours.values[i] - there);
      longest += static_cast<double>(there);
      ++count;
    }
    qInfo("%zu places, cells of %.2f mm: mean difference %.3f %% of the mean distance (signed %.3f %%)",
          count, double(coarse.cell()), 100 * sum / longest, 100 * signedSum / longest);
    QVERIFY(count > 20'000);
    QVERIFY2(sum / longest < 0.01, qPrintable(QString::number(sum / longest)));
  }
  // The same zones on 0.3 million and on 1.2 million points of the same head: mean ΔE2000 below 1.
  void zonesLookTheSameOnTwoDensities() {
    const auto dressed = [](size_t points) {
      Document d = test::documentOf(*demo::makeSculpt(demo::Figure::Keeper, points));
      d.bare = {0.74f, 0.56f, 0.45f};
      for (const auto& [key, place] : demo::landmarksOf(demo::Figure::Keeper))
        d = *withLandmark(d, key, place);
      return *withUsualZones(d);
    };
    const Document coarse = dressed(300'000), fine = dressed(1'200'000);
    const ColorField a = *compositeOf(coarse.layers, *coarse.maps, coarse.bare),
                     b = *compositeOf(fine.layers, *fine.maps, fine.bare);
    double sum = 0, worst = 0;
    size_t count = 0, tinted = 0;
    for (size_t s = 0; s < coarse.surface->size(); s += coarse.surface->size() / 8000 + 1) {
      if (coarse.surface->parts[s] != 0) continue;
      const auto there = nearestSample(*fine.surface, coarse.surface->positions[s], 3, 0);
      if (!there) continue;
      const Lab one = toLab(straight(colorAt(a, s))), other = toLab(straight(colorAt(b, *there)));
      const double away = deltaE2000(one, other);
      sum += away;
      worst = std::max(worst, away);
      ++count;
      tinted += deltaE2000(one, toLab(coarse.bare)) > 2;
    }
    qInfo("%zu places, %zu of them tinted: mean difference %.3f, worst %.2f", count, tinted,
          sum / static_cast<double>(count), worst);
    QVERIFY(tinted > 1000);
    QVERIFY(sum / static_cast<double>(count) < 1);
  }
};

JUVENOR_TEST(TestDistanceReference)
}  // namespace juvenor
#include "test_distance_reference.moc"
