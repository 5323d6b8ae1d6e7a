// Sums of Gaussians along the skin: their widths, what they keep, and that needles of triangles do no harm.
#include "core/surface/graph/gaussian_sum.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

using Three = std::array<float, 3>;

// Mean and variance along x of what a field holds, weighted by area.
std::pair<double, double> momentsOf(const SkinGraph& graph, const std::vector<Three>& field, size_t c) {
  double whole = 0, mean = 0, square = 0;
  for (size_t i = 0; i < graph.size(); ++i) {
    const double w = static_cast<double>(graph.areas[i] * field[i][c]),
                 x = static_cast<double>(graph.positions[i].x());
    whole += w;
    mean += w * x;
    square += w * x * x;
  }
  return {whole, square / whole - mean * mean / (whole * whole)};
}

}  // namespace

class TestGaussianSum : public QObject {
  Q_OBJECT
 private slots:
  // A lone spot becomes a bell of the variance asked for, each value by its own part of the Gaussians.
  void aSpotBecomesAsWideAsAskedFor() {
    const auto surface = test::surfaceOf(test::plane(160, 16));
    const SkinGraph graph = skinGraph(*surface);
    std::vector<Three> spot(graph.size(), Three{});
    size_t middle = 0;
    for (size_t i = 0; i < graph.size(); ++i)
      if (graph.positions[i].norm() < graph.positions[middle].norm()) middle = i;
    spot[middle].fill(100);
    const GaussianPart gaussians[] = {{0.04f, {1, 0, 0.5f}}, {1.2f, {0, 1, 0.5f}}};
    const auto spread = gaussianSum(graph, spot, gaussians);
    QVERIFY(spread);
    const std::array<double, 3> expected{0.04, 1.2, 0.62};
    const double before = static_cast<double>(100 * graph.areas[middle]);
    for (size_t c = 0; c < 3; ++c) {
      const auto [whole, variance] = momentsOf(graph, *spread, c);
      QVERIFY2(std::abs(variance / expected[c] - 1) < 0.02, qPrintable(QString::number(variance)));
      QVERIFY(std::abs(whole / before - 1) < 1e-4);
    }
  }
  // Made-up nuisances and a sculpt of needles: the range and the mean stay.
  void needlesDoNoHarm() {
    Sculpt needles = test::plane(60, 6);
    for (Vec3& v : needles.vertices) v.x() *= v.x() > 0 ? 0.004f : 1.f;
    for (const Sculpt& sculpt : {needles, test::oddities(3), test::torus(60, 40, 12)}) {
      const SkinGraph graph = skinGraph(*test::surfaceOf(sculpt));
      std::vector<Three> values(graph.size());
      for (size_t i = 0; i < values.size(); ++i)
        values[i] = {i % 5 == 0 ? 1.f : 0.f, 0.5f, i % 2 == 0 ? 2.f : 1.f};
      const float variance = 4 * graph.areas[0];
      const auto spread = gaussianSum(graph, values, std::array{GaussianPart{variance, {1, 1, 1}}});
      QVERIFY(spread);
      std::array<double, 3> before{}, after{};
      for (size_t i = 0; i < values.size(); ++i) {
        QVERIFY((*spread)[i][0] > -2e-3f && (*spread)[i][0] < 1.002f);
        QVERIFY(std::abs((*spread)[i][1] - 0.5f) < 1e-4f);
        QVERIFY((*spread)[i][2] > 0.997f && (*spread)[i][2] < 2.003f);
        for (size_t c = 0; c < 3; ++c) {
          before[c] += static_cast<double>(graph.areas[i] * values[i][c]);
          after[c] += static_cast<double>(graph.areas[i] * (*spread)[i][c]);
        }
      }
      for (size_t c = 0; c < 3; ++c) QVERIFY(std::abs(after[c] / before[c] - 1) < 1e-3);
    }
  }
  void nothingIsWiderThanNothing() {
    const SkinGraph graph = skinGraph(*test::surfaceOf(test::plane(4, 1)));
    const std::vector<Three> values(graph.size(), Three{0.2f, 0.4f, 0.6f});
    const auto same = gaussianSum(graph, values, std::array{GaussianPart{0, {1, 1, 1}}});
    QVERIFY(same && *same == values);
    const auto empty = gaussianSum(SkinGraph{}, {}, std::array{GaussianPart{1, {1, 1, 1}}});
    QVERIFY(empty && empty->empty());
    int calls = 0;
    const auto given = gaussianSum(graph, values, std::array{GaussianPart{1, {1, 1, 1}}},
                                   [&](float) { return ++calls < 2; });
    QVERIFY(!given && isCancelled(given.error()));
  }
};

JUVENOR_TEST(TestGaussianSum)
}  // namespace juvenor

#include "test_gaussian_sum.moc"
