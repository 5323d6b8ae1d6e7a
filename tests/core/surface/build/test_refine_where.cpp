// Points that are added around some alone: no cracks, no vertex moved, a gentle way over to where none are.
#include <map>

#include "core/document/edits/edits.h"
#include "core/document/surface_state.h"
#include "core/surface/build/refine_where.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

std::vector<uint32_t> placesAround(const Surface& surface, const Vec3& place, float reach) {
  return rangesWhere(surface.size(), [&](size_t s) { return (surface.positions[s] - place).norm() < reach; });
}

// Edges that belong to one triangle alone.
size_t cracksIn(const Surface& surface) {
  std::map<std::pair<uint32_t, uint32_t>, int> count;
  for (const Triangle& t : surface.triangles)
    for (size_t k = 0; k < 3; ++k) ++count[std::minmax(t[k], t[(k + 1) % 3])];
  return static_cast<size_t>(std::ranges::count_if(count, [](const auto& e) { return e.second == 1; }));
}

}  // namespace

class TestRefineWhere : public QObject {
  Q_OBJECT
 private slots:
  void onlyThere_data() {
    QTest::addColumn<bool>("round");
    QTest::newRow("flat") << false;
    QTest::newRow("round") << true;
  }
  void onlyThere() {
    QFETCH(const bool, round);
    const Sculpt ball = test::sphere(60, 100);
    const auto before = test::surfaceOf(ball);
    const Vec3 place(0, 0, 100);
    Refinement wanted{0.6f, round ? RefineShape::Round : RefineShape::Flat, 40,
                      placesAround(*before, place, 20)};
    const auto after = refine(*before, wanted);
    QVERIFY2(after, after ? "" : after.error().what.c_str());
    const Surface& s = *after->surface;
    QCOMPARE(cracksIn(s), size_t{0});
    // Euler: still one closed ball
    QCOMPARE(s.size() + s.triangles.size(), 3 * s.triangles.size() / 2 + 2);
    for (size_t v = 0; v < ball.vertices.size(); ++v)
      QVERIFY(s.positions[s.sampleOfVertex[v]] == ball.vertices[v]);
    double there = 0, far = 0, farBefore = 0;
    float longest = 0;
    for (const Triangle& t : s.triangles) {
      const Vec3 middle = (s.positions[t[0]] + s.positions[t[1]] + s.positions[t[2]]) / 3;
      const float away = (middle - place).norm();
      for (size_t k = 0; k < 3; ++k) {
        const float edge = (s.positions[t[k]] - s.positions[t[(k + 1) % 3]]).norm();
        if (away < 11) longest = std::max(longest, edge);
      }
      there += away < 11;
      far += away > 60;
    }
    for (const Triangle& t : before->triangles)
      farBefore +=
          ((before->positions[t[0]] + before->positions[t[1]] + before->positions[t[2]]) / 3 - place).norm() >
          60;
    QVERIFY2(longest <= 0.6f * 4 / 3 * 1.01f, qPrintable(QString::number(longest)));
    QVERIFY(there > 1000);
    // where none were wanted none are
    QCOMPARE(far, farBefore);
    const auto told = static_cast<double>(samplesAfter(*before, wanted)), is = static_cast<double>(s.size());
    QVERIFY2(std::abs(told - is) < 0.35 * is, qPrintable(QString("%1 told, %2").arg(told).arg(is)));
    // the same again, to the bit
    const auto again = refine(*before, wanted);
    QVERIFY(again->surface->positions == s.positions && again->surface->triangles == s.triangles);
  }
  // Neighbours differ by no more than twice or so, and no triangle is a needle.
  void pointsThinOutGently() {
    const auto before = test::surfaceOf(test::plane(40, 400));
    const auto after = *refine(*before, {1, RefineShape::Flat, 40, placesAround(*before, Vec3::Zero(), 40)});
    const Surface& s = *after.surface;
    std::vector<float> longest(s.size(), 0);
    double thinnest = 1;
    for (const Triangle& t : s.triangles) {
      const Vec3 a = s.positions[t[1]] - s.positions[t[0]], b = s.positions[t[2]] - s.positions[t[1]],
                 c = s.positions[t[0]] - s.positions[t[2]];
      const double area = 0.5 * static_cast<double>(a.cross(b).norm()),
                   sides = static_cast<double>(a.squaredNorm() + b.squaredNorm() + c.squaredNorm());
      thinnest = std::min(thinnest, 4 * std::sqrt(3.0) * area / sides);  // 1: equilateral
      for (const uint32_t v : t)
        longest[v] =
            std::max(longest[v], std::sqrt(std::max({a.squaredNorm(), b.squaredNorm(), c.squaredNorm()})));
    }
    float worst = 1;
    for (uint32_t v = 0; v < s.size(); ++v)
      for (const uint32_t n : s.neighborsOf(v)) worst = std::max(worst, longest[n] / longest[v]);
    QVERIFY2(thinnest > 0.2 && worst < 4.1f, qPrintable(QString("%1, %2").arg(thinnest).arg(worst)));
  }
  void documentsKeepIt() {
    Document d = withPaintedLayer(test::documentOf(test::sphere(40, 50)), "Paint", Stratum::Pigment);
    d = *withMaskFilled(*withMask(d, d.activeLayer), d.activeLayer, 0, 1, kNone);
    const auto nowhere = pointsShownBy(d, d.activeLayer);
    QVERIFY(!nowhere && !nowhere.error().what.empty());
    QVERIFY(!pointsShownBy(d, kGuard));
    ScalarField shows = closedMask(d.surface->size());
    auto chunk = shows.writable(0);
    for (size_t s = 100; s < 400; ++s) chunk->plane[0][s] = 65535;
    shows.setChunk(0, chunk);
    d = *withMaskField(d, d.activeLayer, shows);
    const auto where = pointsShownBy(d, d.activeLayer);
    QCOMPARE(*where, (std::vector<uint32_t>{100, 400}));
    const Document finer = *withRefinement(d, {0.5f, RefineShape::Round, 40, *where});
    QVERIFY(finer.surface->size() > d.surface->size() + 300);
    // it follows from the sculpt and what is written of it
    nlohmann::json state{{"refinements", toJson(finer.refinements)}};
    const auto read = surfaceOfState(nlohmann::json::parse(state.dump()));
    QVERIFY2(read, read ? "" : read.error().what.c_str());
    QVERIFY(read->refinements == finer.refinements);
    const auto again = *surfaceAfter(*d.sculpt, *read);
    QVERIFY(again->positions == finer.surface->positions);
  }
  void nonsenseIsRefused_data() {
    QTest::addColumn<QByteArray>("refinements");
    QTest::newRow("odd") << QByteArray("[{\"spacing\": 1, \"where\": [3]}]");
    QTest::newRow("backwards") << QByteArray("[{\"spacing\": 1, \"where\": [9, 3]}]");
    QTest::newRow("overlapping") << QByteArray("[{\"spacing\": 1, \"where\": [1, 9, 5, 12]}]");
    QTest::newRow("not there") << QByteArray("[{\"spacing\": 1, \"where\": [1, 39000000]}]");
    QTest::newRow("far out") << QByteArray("[{\"spacing\": 1, \"where\": [1, 99000000000]}]");
    QTest::newRow("words") << QByteArray("[{\"spacing\": 1, \"where\": [\"a\", \"b\"]}]");
    QTest::newRow("no spacing") << QByteArray("[{\"spacing\": 0, \"where\": [1, 9]}]");
    QTest::newRow("next to nothing") << QByteArray("[{\"spacing\": 1e-8, \"where\": [1, 9]}]");
  }
  void nonsenseIsRefused() {
    QFETCH(const QByteArray, refinements);
    const nlohmann::json state{{"refinements", nlohmann::json::parse(refinements.toStdString())}};
    const auto read = surfaceOfState(state);
    Error error{read ? "" : read.error().what};
    if (read) {
      const auto surface = surfaceAfter(test::sphere(20, 10), *read);
      QVERIFY(!surface);
      error = surface.error();
    }
    QVERIFY(!error.what.empty());
  }
};

JUVENOR_TEST(TestRefineWhere)

}  // namespace juvenor

#include "test_refine_where.moc"
