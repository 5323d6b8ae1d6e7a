// The skin inside an outline: against the angle under which it is seen, the tangent cone of a ball, and a
// fade in closed form.
#include <cmath>

#include "core/document/edits/edits.h"
#include "core/pen/lasso.h"
#include "core/surface/build/search.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

const ViewSize kRopedView{400, 300};

Camera fromAfar() {
  Camera out;
  out.distance = 400;
  return out;
}

struct Roped {
  explicit Roped(const Sculpt& sculpt) : document(test::documentOf(sculpt)), rays(*document.maps->rays()) {}
  Eye eye(const Camera& camera = fromAfar()) const { return {rays.get(), nullptr, camera, kRopedView, {}}; }
  Vec2 pixel(const Vec3& place, const Camera& camera = fromAfar()) const {
    return project(camera, kRopedView, place).head<2>();
  }
  Document document;
  RaysPointer rays;
};

// Whether an outline goes around a place: the angle under which it is seen adds up to whole turns (even-odd).
bool around(std::span<const Vec2> outline, const Vec2& p) {
  double sum = 0;
  for (size_t i = 0; i < outline.size(); ++i) {
    const Vec2 a = outline[i] - p, b = outline[(i + 1) % outline.size()] - p;
    sum += std::atan2(static_cast<double>(a.x() * b.y() - a.y() * b.x()), static_cast<double>(a.dot(b)));
  }
  return std::lround(sum / (2 * M_PI)) % 2 != 0;
}

// How far a place is from the nearest side.
float toRim(std::span<const Vec2> outline, const Vec2& p) {
  float out = 1e9f;
  for (size_t i = 0; i < outline.size(); ++i) {
    const Vec2 a = outline[i], way = outline[(i + 1) % outline.size()] - a;
    const float t = std::clamp((p - a).dot(way) / way.squaredNorm(), 0.f, 1.f);
    out = std::min(out, (a + t * way - p).norm());
  }
  return out;
}

}  // namespace

class TestLasso : public QObject {
  Q_OBJECT
 private slots:
  // A star that crosses itself: its middle is outside.
  void insideIsWhatTheOutlineGoesAround() {
    const Roped scene(test::plane(300, 200));
    std::vector<Vec2> star;
    for (int i = 0; i < 5; ++i) {
      const float a = 4 * static_cast<float>(M_PI) * static_cast<float>(i) / 5;
      star.push_back(Vec2(200, 150) + 90 * Vec2(std::sin(a), -std::cos(a)));
    }
    const auto inside = insideLasso(scene.eye(), star, {});
    QVERIFY2(inside, inside ? "" : inside.error().what.c_str());
    size_t held = 0, middle = 0;
    for (size_t s = 0; s < inside->size(); ++s) {
      const Vec2 p = scene.pixel(scene.document.surface->positions[s]);
      if (toRim(star, p) < 0.5f) continue;
      QCOMPARE(inside->at(s)[0], around(star, p) ? 65535 : 0);
      held += around(star, p);
      middle += (p - Vec2(200, 150)).norm() < 20;
    }
    QVERIFY(held > 1000 && middle > 100);
  }
  // Straight through a ball takes its back as well; from the front alone nothing that turns away, nor what
  // stands behind something.
  void frontOrThrough() {
    const Roped scene(test::together(test::sphere(60, 40), test::sphere(30, 15, {0, 0, 70})));
    const std::vector<Vec2> outline{{150, 100}, {250, 100}, {250, 200}, {150, 200}};
    LassoSetting through;
    through.frontOnly = false;
    const ScalarField front = *insideLasso(scene.eye(), outline, {}),
                      all = *insideLasso(scene.eye(), outline, through);
    size_t behind = 0;
    for (size_t s = 0; s < front.size(); ++s) {
      const Vec3 &p = scene.document.surface->positions[s], &n = scene.document.surface->normals[s];
      const Vec2 at = scene.pixel(p);
      if (toRim(outline, at) < 0.5f) continue;
      QCOMPARE(all.at(s)[0] > 0, around(outline, at));
      if (!around(outline, at)) {
        QCOMPARE(front.at(s)[0], 0);
        continue;
      }
      const Vec3 way = toViewer(fromAfar(), p);
      if (std::abs(n.dot(way)) < 0.1f) continue;
      // what the small ball covers, as seen from the eye: its tangent cone
      const Vec3 eye(0, 0, 400);
      const float away = 330, cone = 15 / away, angle = std::acos((p - eye).normalized().dot(Vec3(0, 0, -1)));
      if (p.z() < 45 && std::abs(angle - std::asin(cone)) < 0.003f) continue;
      const bool covered = p.z() < 45 && angle < std::asin(cone);
      QCOMPARE(front.at(s)[0] > 0, n.dot(way) > 0 && !covered);
      behind += covered && n.dot(way) > 0;
    }
    QVERIFY(behind > 20);
  }
  // The edge fades along the skin: half at the outline, wholly in and out half the width from it.
  void edgesFadeInMillimetres() {
    const Roped scene(test::plane(300, 200));
    std::vector<Vec2> outline;
    for (const Vec3& p : {Vec3(-40, -40, 0), Vec3(40, -40, 0), Vec3(40, 40, 0), Vec3(-40, 40, 0)})
      outline.push_back(scene.pixel(p));
    LassoSetting setting;
    setting.soft = 12;
    const ScalarField inside = *insideLasso(scene.eye(), outline, setting);
    for (size_t s = 0; s < inside.size(); ++s) {
      const Vec3& p = scene.document.surface->positions[s];
      if (std::abs(p.y()) > 25) continue;  // away from corners
      const float out = std::abs(p.x()) - 40, t = std::clamp(0.5f - out / 12, 0.f, 1.f);
      const float wanted = t * t * (3 - 2 * t), is = static_cast<float>(inside.at(s)[0]) / 65535;
      QVERIFY2(std::abs(is - wanted) < 0.08f,
               qPrintable(QString("%1: %2, not %3").arg(out).arg(is).arg(wanted)));
    }
  }
  void hiddenAndCutAwayIsLeftOut() {
    const Roped scene(test::together(test::sphere(60, 40), test::insideOut(test::sphere(40, 25))));
    const std::vector<Vec2> outline{{100, 50}, {300, 50}, {300, 250}, {100, 250}};
    Eye eye = scene.eye();
    eye.hidden = {0};
    // what is left looks the other way
    QVERIFY(!insideLasso(eye, outline, {}));
    LassoSetting all;
    all.frontOnly = false;
    const ScalarField cave = *insideLasso(eye, outline, all);
    Camera cut = fromAfar();
    cut.cutAway = 10;
    const ScalarField opened = *insideLasso(scene.eye(cut), outline, {});
    // through flesh, before the cave begins: the cave's far wall is seen
    cut.cutAway = 30;
    const ScalarField flesh = *insideLasso(scene.eye(cut), outline, {});
    QCOMPARE(flesh.at(*nearestSample(*scene.document.surface, {0, 0, -25}, 5))[0], 65535);
    QCOMPARE(flesh.at(*nearestSample(*scene.document.surface, {0, 0, 25}, 5))[0], 0);
    size_t seen = 0;
    for (size_t s = 0; s < cave.size(); ++s) {
      const Vec3& p = scene.document.surface->positions[s];
      if (scene.document.surface->parts[s] == 0) QCOMPARE(cave.at(s)[0], 0);
      if (p.z() > 10) QCOMPARE(opened.at(s)[0], 0);
      seen += scene.document.surface->parts[s] == 1 && opened.at(s)[0] > 0;
    }
    QVERIFY(seen > 200);
    LassoSetting part;
    part.part = 1;
    part.frontOnly = false;
    const ScalarField one = *insideLasso(scene.eye(), outline, part);
    for (size_t s = 0; s < one.size(); ++s)
      if (scene.document.surface->parts[s] == 0) QCOMPARE(one.at(s)[0], 0);
  }
  void masksTakeAndGive() {
    const Roped scene(test::plane(100, 200));
    Document d = withPaintedLayer(scene.document, "Paint", Stratum::Pigment);
    const uint32_t id = d.activeLayer;
    const std::vector<Vec2> left{{0, 0}, {200, 0}, {200, 300}, {0, 300}},
        lower{{0, 150}, {400, 150}, {400, 300}, {0, 300}};
    const ScalarField l = *insideLasso(scene.eye(), left, {}), b = *insideLasso(scene.eye(), lower, {});
    const auto nothing = withLassoOnMask(d, id, l, true);
    QVERIFY(!nothing && nothing.error().what.find("Paint") != std::string::npos);
    QVERIFY(!withLassoOnMask(d, kGuard, l, true));
    QVERIFY(!withLassoOnMask(d, 77, l, false));
    d = *withLassoOnMask(d, id, l, false);
    d = *withLassoOnMask(d, id, b, true);
    d = *withLassoOnMask(d, kGuard, b, false);
    for (size_t s = 0; s < l.size(); ++s) {
      QCOMPARE(layerOf(d, id)->mask->at(s)[0], l.at(s)[0] > 0 && b.at(s)[0] == 0 ? 0 : 65535);
      QCOMPARE(d.guard->at(s)[0], b.at(s)[0] > 0 ? 0 : 65535);
    }
    QVERIFY(!withLassoOnMask(d, id, ScalarField(3), false));
  }
  void nonsenseIsRefused_data() {
    QTest::addColumn<QList<QPointF>>("outline");
    const double inf = std::numeric_limits<double>::infinity(),
                 nan = std::numeric_limits<double>::quiet_NaN();
    QTest::newRow("nothing") << QList<QPointF>();
    QTest::newRow("two places") << QList<QPointF>{{10, 10}, {300, 200}};
    QTest::newRow("beside the skin") << QList<QPointF>{{0, 0}, {5, 0}, {5, 5}};
    QTest::newRow("a line") << QList<QPointF>{{10, 100}, {300, 100}, {200, 100}};
    QTest::newRow("without end") << QList<QPointF>{{10, 10}, {inf, 200}, {0, 100}};
    QTest::newRow("no numbers") << QList<QPointF>{{10, 10}, {nan, 200}, {0, 100}};
    QTest::newRow("very far") << QList<QPointF>{{10, 10}, {1e20, 200}, {0, 100}};
  }
  void nonsenseIsRefused() {
    QFETCH(const QList<QPointF>, outline);
    const Roped scene(test::plane(20, 100));
    std::vector<Vec2> pixels;
    for (const QPointF& p : outline)
      pixels.emplace_back(static_cast<float>(p.x()), static_cast<float>(p.y()));
    const auto inside = insideLasso(scene.eye(), pixels, {});
    QVERIFY(!inside && !inside.error().what.empty());
  }
};

JUVENOR_TEST(TestLasso)

}  // namespace juvenor

#include "test_lasso.moc"
