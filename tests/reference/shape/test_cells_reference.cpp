// Cells over flat skin against CGAL's Delaunay triangulation and its dual, the Voronoi diagram.
#include <CGAL/Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>

#include <cmath>
#include <map>

#include "support/covered.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

using Exact = CGAL::Exact_predicates_inexact_constructions_kernel;
using Delaunay = CGAL::Delaunay_triangulation_2<Exact>;

}  // namespace

class TestCellsReference : public QObject {
  Q_OBJECT
 private slots:
  // CGAL is the judge: which middle is nearest, and how far the edge of its Voronoi cell is.
  void bordersAreThoseOfAVoronoiDiagram() {
    const test::Covered covered(test::plane(300, 30), 2);
    Delaunay judge;
    std::map<Delaunay::Vertex_handle, uint32_t> number;
    for (uint32_t c = 0; c < covered.cells.cells.size(); ++c) {
      const Vec3& p = covered.cells.cells[c].position;
      number[judge.insert({static_cast<double>(p.x()), static_cast<double>(p.y())})] = c;
    }
    QCOMPARE(number.size(), covered.cells.cells.size());
    int seen = 0;
    for (uint32_t s = 0; s < covered.surface->size(); s += 7) {
      const Vec3& p = covered.surface->positions[s];
      const Exact::Point_2 at(static_cast<double>(p.x()), static_cast<double>(p.y()));
      const auto own = judge.nearest_vertex(at);
      const CellPlaces::Place& place = covered.places.of[s];
      double border = 1e9;
      auto around = judge.incident_vertices(own), end = around;
      do {
        if (judge.is_infinite(around)) continue;
        const double apart = std::sqrt(CGAL::squared_distance(own->point(), around->point()));
        border = std::min(
            border, (CGAL::squared_distance(at, around->point()) - CGAL::squared_distance(at, own->point())) /
                        (2 * apart));
      } while (++around != end);
      if (border < 1e-3) continue;  // on the border itself either may be said
      QCOMPARE(place.cell, number[own]);
      const double told = static_cast<double>(place.edge) / static_cast<double>(CellPlaces::kEdge);
      // half a width is 1; measured over what is apart, so that uneven neighbours differ a little
      if (std::abs(p.x()) < 13 && std::abs(p.y()) < 13) QVERIFY(std::abs(told - border) < 0.12);
      ++seen;
    }
    QVERIFY(seen > 10000);
  }
};

JUVENOR_TEST(TestCellsReference)
}  // namespace juvenor
#include "test_cells_reference.moc"
