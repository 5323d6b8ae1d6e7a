// Samples, neighbours, normals, search and refining.
#include <set>

#include "core/surface/build/refine.h"
#include "core/surface/build/search.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

double areaOf(const Surface& s) {
  double sum = 0;
  for (const float a : s.areas) sum += static_cast<double>(a);
  return sum;
}

// Edges with only one triangle: the rim of a crack.
size_t openEdges(const Surface& s) {
  std::map<std::pair<uint32_t, uint32_t>, int> edges;
  for (const Triangle& t : s.triangles)
    for (int i = 0; i < 3; ++i) ++edges[std::minmax(t[i], t[(i + 1) % 3])];
  return static_cast<size_t>(std::ranges::count_if(edges, [](const auto& e) { return e.second == 1; }));
}

}  // namespace

class TestSurface : public QObject {
  Q_OBJECT
 private slots:
  // Skilling 2004: the curve passes every cell once and steps to a neighbouring one.
  void hilbertCurveVisitsNeighbours() {
    constexpr uint32_t n = 8, low = 1u << 13;  // the first 8 × 8 × 8 cells of size 2¹³
    std::map<uint64_t, Vec3> cells;
    for (uint32_t x = 0; x < n; ++x)
      for (uint32_t y = 0; y < n; ++y)
        for (uint32_t z = 0; z < n; ++z)
          cells[hilbertIndex(x * low, y * low, z * low) >> 39] =
              Vec3(static_cast<float>(x), static_cast<float>(y), static_cast<float>(z));
    QCOMPARE(cells.size(), size_t{n * n * n});
    const Vec3* last = nullptr;
    for (const auto& [key, cell] : cells) {
      if (last) QCOMPARE((cell - *last).norm(), 1.f);
      last = &cell;
    }
  }
  void everyVertexHasItsSample() {
    const Sculpt sculpt = test::oddities(4);
    const auto s = test::surfaceOf(sculpt);
    QCOMPARE(s->sampleOfVertex.size(), sculpt.vertices.size());
    for (size_t v = 0; v < sculpt.vertices.size(); ++v)
      QVERIFY(s->positions[s->sampleOfVertex[v]] == sculpt.vertices[v]);
  }
  void soupIsJoinedWithoutCracks() {
    const Sculpt whole = test::sphere(24, 3);
    const auto a = test::surfaceOf(whole), b = test::surfaceOf(test::soup(whole));
    QCOMPARE(b->size(), whole.vertices.size());
    QCOMPARE(openEdges(*a), size_t{0});
    QCOMPARE(openEdges(*b), size_t{0});
  }
  void coincidentVerticesOfTwoPartsStayApart() {
    Sculpt other = test::plane(2, 1);
    other.parts = {"Other"};
    const auto s = test::surfaceOf(test::together(test::plane(2, 1), other));
    QCOMPARE(s->size(), size_t{18});
    for (size_t i = 0; i < s->size(); ++i)
      for (const uint32_t n : s->neighborsOf(i)) QCOMPARE(s->parts[n], s->parts[i]);
  }
  void neighboursAreMutualSortedAndTheTrianglesEdges() {
    const auto s = test::surfaceOf(test::together(test::sphere(12, 1), test::oddities(5)));
    std::set<std::pair<uint32_t, uint32_t>> edges;
    for (const Triangle& t : s->triangles)
      for (int i = 0; i < 3; ++i) {
        edges.insert({t[i], t[(i + 1) % 3]});
        edges.insert({t[(i + 1) % 3], t[i]});
      }
    size_t count = 0;
    for (uint32_t i = 0; i < s->size(); ++i) {
      const auto around = s->neighborsOf(i);
      QVERIFY(std::is_sorted(around.begin(), around.end()));
      for (const uint32_t n : around) QVERIFY(edges.contains({i, n}));
      count += around.size();
    }
    QCOMPARE(count, edges.size());
  }
  // A fan of a hundred triangles around one vertex, a triangle given twice, edges that three triangles share:
  // each neighbour once, whatever its winding.
  void neighboursOfTangledMeshes() {
    std::mt19937 random(12);
    Sculpt tangle;
    for (int v = 0; v < 400; ++v)
      tangle.vertices.push_back(Vec3(static_cast<float>(random() % 1000), static_cast<float>(random() % 1000),
                                     static_cast<float>(random() % 1000)));
    tangle.polygonStart.push_back(0);
    const auto face = [&](uint32_t a, uint32_t b, uint32_t c) {
      tangle.corners.insert(tangle.corners.end(), {a, b, c});
      tangle.polygonStart.push_back(static_cast<uint32_t>(tangle.corners.size()));
      tangle.polygonPart.push_back(0);
    };
    for (uint32_t v = 1; v < 101; ++v) face(0, v, v % 100 + 1);
    face(0, 1, 2);
    for (int t = 0; t < 900; ++t) {
      const uint32_t a = random() % 400, b = random() % 400, c = random() % 400;
      if (a != b && b != c && c != a) face(a, b, c);
    }
    QVERIFY(finishSculpt(tangle, "tangle"));
    const auto s = test::surfaceOf(tangle);
    std::vector<std::set<uint32_t>> expected(s->size());
    for (size_t p = 0; p < tangle.polygonCount(); ++p)
      for (const uint32_t a : tangle.polygon(p))
        for (const uint32_t b : tangle.polygon(p))
          if (a != b) expected[s->sampleOfVertex[a]].insert(s->sampleOfVertex[b]);
    for (uint32_t i = 0; i < s->size(); ++i) {
      const auto around = s->neighborsOf(i);
      QCOMPARE(std::vector(around.begin(), around.end()),
               std::vector(expected[i].begin(), expected[i].end()));
    }
    QVERIFY(s->neighborsOf(s->sampleOfVertex[0]).size() >= 100);
  }
  void normalsAndAreasOfASphere() {
    const float radius = 2.5f;
    const auto s = test::surfaceOf(test::sphere(64, radius));
    for (size_t i = 0; i < s->size(); ++i) QVERIFY((s->normals[i] - s->positions[i] / radius).norm() < 0.01f);
    QVERIFY(std::abs(areaOf(*s) / (4 * M_PI * radius * radius) - 1) < 2e-3);
  }
  // Non-manifold edges, a face without area, loose and doubled vertices, and sizes where single precision
  // squares to nothing.
  void awkwardMeshesAreTaken() {
    Sculpt s = test::plane(2, 1e-6f);
    const auto v = static_cast<uint32_t>(s.vertices.size());
    s.vertices.insert(s.vertices.end(), {{0, 0, 1e-6f}, {0, 0, 1e-6f}, {5, 5, 5}});
    for (const std::array<uint32_t, 3>& t :
         {std::array<uint32_t, 3>{4, 5, v}, {4, 5, v + 1}, {4, 4, 5}, {0, 1, 2}}) {
      s.corners.insert(s.corners.end(), t.begin(), t.end());
      s.polygonStart.push_back(static_cast<uint32_t>(s.corners.size()));
      s.polygonPart.push_back(0);
    }
    const auto surface = test::surfaceOf(s);
    QCOMPARE(surface->size(), s.vertices.size() - 1);
    for (const Vec3& n : surface->normals) QVERIFY(std::abs(n.norm() - 1) < 1e-5f);
    QVERIFY(surface->normals[surface->sampleOfVertex[0]].z() > 0.99f);
  }
  void searchFindsWhatTryingAllFinds() {
    const auto s = test::surfaceOf(test::together(test::sphere(40, 2), test::sphere(20, 1, {3, 0, 0})));
    std::mt19937 random(7);
    std::uniform_real_distribution<float> place(-3, 4), reach(0, 2);
    for (int round = 0; round < 200; ++round) {
      const Vec3 p(place(random), place(random), place(random));
      const float r = reach(random);
      std::vector<uint32_t> found, all;
      samplesWithin(*s, p, r, found);
      float best = r;
      std::optional<uint32_t> nearest;
      for (uint32_t i = 0; i < s->size(); ++i) {
        const float d = (s->positions[i] - p).norm();
        if ((s->positions[i] - p).squaredNorm() <= r * r) all.push_back(i);
        if (d < best) {
          best = d;
          nearest = i;
        }
      }
      QCOMPARE(found, all);
      const auto got = nearestSample(*s, p, r);
      QCOMPARE(got.has_value(), nearest.has_value());
      if (got) QVERIFY(std::abs((s->positions[*got] - p).norm() - best) < 1e-6f);
      if (const auto second = nearestSample(*s, p, 10, 1)) QCOMPARE(s->parts[*second], 1u);
    }
  }
  // Common practice: one more subdivision gives four times the points (here exactly four times the
  // triangles).
  void oneRegularLevelMultipliesTrianglesByFour() {
    const auto s = test::surfaceOf(test::together(test::sphere(16, 2), test::oddities(6)));
    const auto fine = refine(*s, {});
    QVERIFY(fine);
    QCOMPARE(fine->surface->triangles.size(), 4 * s->triangles.size());
    QVERIFY(std::abs(areaOf(*fine->surface) / areaOf(*s) - 1) < 1e-5);
  }
  void refiningKeepsVerticesShapeAndTightness() {
    const auto s = test::surfaceOf(test::sphere(10, 2));
    const auto fine = refine(*s, {0.11f});
    QVERIFY(fine);
    const Surface& f = *fine->surface;
    QCOMPARE(openEdges(f), size_t{0});
    QVERIFY(std::abs(areaOf(f) / areaOf(*s) - 1) < 1e-5);
    for (size_t v = 0; v < s->sampleOfVertex.size(); ++v)
      QVERIFY(f.positions[f.sampleOfVertex[v]] == s->positions[s->sampleOfVertex[v]]);
    for (const Triangle& t : f.triangles)
      for (int i = 0; i < 3; ++i)
        QVERIFY((f.positions[t[i]] - f.positions[t[(i + 1) % 3]]).norm() <= 0.11f * 4 / 3 + 1e-6f);
    for (size_t i = 0; i < f.size(); ++i) {
      Vec3 mixed = Vec3::Zero();
      float weight = 0;
      for (int k = 0; k < 3; ++k) {
        mixed += fine->origins[i].weight[k] * s->positions[fine->origins[i].sample[k]];
        weight += fine->origins[i].weight[k];
      }
      QVERIFY(std::abs(weight - 1) < 1e-5f);
      QVERIFY((mixed - f.positions[i]).norm() < 1e-4f);
    }
  }
  void refiningRefusesWhatItCannotHold() {
    const auto s = test::surfaceOf(test::plane(4, 10));
    const auto much = refine(*s, {0.01f}, 100'000);
    QVERIFY(!much && much.error().what.find("larger spacing") != std::string::npos);
    QVERIFY(!refine(*s, {-1}));
    const auto cancelled = refine(*s, {0.1f}, 1'000'000, [](float) { return false; });
    QVERIFY(!cancelled && isCancelled(cancelled.error()));
  }
};

JUVENOR_TEST(TestSurface)
}  // namespace juvenor
#include "test_surface.moc"
