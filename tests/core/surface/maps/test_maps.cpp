// Surface maps against closed forms: curvature of sphere, cylinder, torus and plane (Meyer and others 2003
// give the operator); occlusion, thickness and exposure of spheres, corners and boxes.
#include "core/surface/graph/melt.h"
#include "core/surface/maps/surface_maps.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

SkinLadder ladderOf(const Surface& s) {
  return skinLadder(skinGraph(s), s.spacing);
}

float worstAwayFrom(const std::vector<float>& values, float expected) {
  float worst = 0;
  for (const float v : values) worst = std::max(worst, std::abs(v - expected));
  return worst;
}

double meanAway(const Surface& s, const std::vector<float>& values,
                const std::function<float(const Vec3&)>& truth) {
  double sum = 0, area = 0;
  for (size_t i = 0; i < s.size(); ++i) {
    sum += static_cast<double>(s.areas[i] * std::abs(values[i] - truth(s.positions[i])));
    area += static_cast<double>(s.areas[i]);
  }
  return sum / area;
}

}  // namespace

class TestMaps : public QObject {
  Q_OBJECT
 private slots:
  // H = 1/r on a sphere, 1/2r on a cylinder, 0 on a plane, at three densities each; the mean error must fall
  // with the density. The limits are what was found, and a little more.
  void curvatureConverges() {
    struct Case {
      const char* name;
      std::function<Sculpt(int)> make;
      std::function<float(const Vec3&)> truth;
      double coarsest;
    };
    const float ring = 3, tube = 1;
    const Case cases[] = {
        {"sphere", [](int n) { return test::sphere(n, 2); }, [](const Vec3&) { return 0.5f; }, 0.02},
        {"torus", [=](int n) { return test::torus(2 * n, ring, tube); },
         [=](const Vec3& p) {
           const float out = std::hypot(p.x(), p.z()), c = (out - ring) / tube;
           return (ring + 2 * tube * c) / (2 * tube * (ring + tube * c));
         },
         0.02},
    };
    for (const Case& c : cases) {
      double before = 1e9;
      for (const int n : {16, 32, 64}) {
        const auto s = test::surfaceOf(c.make(n));
        const auto h = meanCurvature(*s, ladderOf(*s), 0);
        const double error = meanAway(*s, *h, c.truth);
        qInfo("%s, %zu points: mean error of the mean curvature %.5f", c.name, s->size(), error);
        QVERIFY2(error < (n == 16 ? c.coarsest : before / 2), c.name);
        before = error;
      }
    }
  }
  void curvatureOfACylinder() {
    // its points lie on the circle, and the operator is exact there
    for (const int n : {24, 48, 96}) {
      const auto s = test::surfaceOf(test::cylinder(n, 2, 12));
      const auto h = meanCurvature(*s, ladderOf(*s), 0);
      double worst = 0;
      for (size_t i = 0; i < s->size(); ++i)
        if (std::abs(s->positions[i].y()) < 5)
          worst = std::max(worst, std::abs(static_cast<double>((*h)[i]) - 0.25));
      qInfo("cylinder, %zu points: worst error of the mean curvature %.5f", s->size(), worst);
      QVERIFY(worst < 1e-4);
    }
    const auto flat = test::surfaceOf(test::plane(20, 4));
    QCOMPARE(worstAwayFrom(*meanCurvature(*flat, ladderOf(*flat), 0.5f), 0), 0.f);
  }
  // A sphere with fine bumps: at the bumps' scale it is rough, at a larger one it is the sphere again, and
  // the density of points hardly matters.
  void curvatureHasItsScaleInSceneUnits() {
    std::vector<double> means;
    for (const int rings : {60, 120}) {
      Sculpt bumpy = test::sphere(rings, 10);
      for (Vec3& v : bumpy.vertices) v *= 1 + 0.012f * std::sin(1.6f * v.x()) * std::sin(1.6f * v.y());
      const auto s = test::surfaceOf(bumpy);
      const SkinLadder ladder = ladderOf(*s);
      const auto fine = meanCurvature(*s, ladder, 0.5f), wide = meanCurvature(*s, ladder, 12);
      const auto truth = [](const Vec3&) { return 0.1f; };
      QVERIFY(meanAway(*s, *fine, truth) > 0.05);
      QVERIFY2(meanAway(*s, *wide, truth) < 0.012, qPrintable(QString::number(meanAway(*s, *wide, truth))));
      means.push_back(meanAway(*s, *fine, truth));
    }
    QVERIFY2(std::abs(means[0] / means[1] - 1) < 0.1,
             qPrintable(QString("%1 %2").arg(means[0]).arg(means[1])));
  }
  void openSphereIsNotOccluded() {
    const auto s = test::surfaceOf(test::sphere(24, 5));
    const Rays rays(s, Rays::Quality::Full);
    QCOMPARE(worstAwayFrom(*occlusion(rays, 0), 0), 0.f);
    // exposure to a sky above: (1 + n·up)/2
    const auto sky = exposure(rays, Vec3::UnitY(), 400);
    for (size_t i = 0; i < s->size(); ++i)
      QVERIFY(std::abs((*sky)[i] - 0.5f * (1 + s->normals[i].y())) < 0.02f);
  }
  void insideOfABoxIsClosedIn() {
    const auto s = test::surfaceOf(test::insideOut(test::box(6, {2, 3, 4})));
    const Rays rays(s, Rays::Quality::Full);
    const auto closed = occlusion(rays, 0, 64);
    const auto open = occlusion(rays, 0.001f, 64);
    for (size_t i = 0; i < s->size(); ++i) {
      // off the edges, whose normals lean
      if (s->neighborsOf(i).size() > 0 && (*closed)[i] < 1)
        QVERIFY2(s->positions[i].cwiseAbs().cwiseQuotient(Vec3(1, 1.5f, 2)).maxCoeff() > 0.999f, "inside");
    }
    QVERIFY(std::ranges::count_if(*closed, [](float v) { return v == 1; }) >
            static_cast<long>(s->size() * 9 / 10));
    QVERIFY(std::ranges::count_if(*open, [](float v) { return v == 0; }) > static_cast<long>(s->size() / 2));
  }
  // The ground at the foot of a wall that is high and long sees half of the sky: ½; far away all of it.
  void cornerOfAWallIsHalf() {
    Sculpt ground = test::plane(80, 80), wall = test::plane(80, 80);
    for (Vec3& v : wall.vertices) v = {40, v.x(), v.y() + 40};
    const auto s = test::surfaceOf(test::together(ground, wall));
    const Rays rays(s, Rays::Quality::Full);
    const auto blocked = occlusion(rays, 0, 400);
    size_t checked = 0;
    for (size_t i = 0; i < s->size(); ++i) {
      const Vec3& p = s->positions[i];
      if (s->parts[i] != 0 || std::abs(p.y()) > 2) continue;
      // a wall of height h and endless length at distance d: (1 − d/√(d² + h²))/2
      const float d = 40 - p.x(), h = 80;
      const float endless = 0.5f * (1 - d / std::hypot(d, h));
      if (d <= 0.9f || d >= 4) continue;
      ++checked;
      QVERIFY2(
          std::abs((*blocked)[i] - endless) < 0.02f,
          qPrintable(QString("%1: %2 %3").arg(double(d)).arg(double((*blocked)[i])).arg(double(endless))));
    }
    QVERIFY(checked >= 9);
  }
  // The mean chord of a ball over a cone of 30° is r(1 + cos 30°); a slab of thickness t has
  // t·ln(1/cos 30°)/(1 − cos 30°).
  void thicknessOfBallAndSlab() {
    const auto ball = test::surfaceOf(test::sphere(64, 3));
    const auto way = thickness(Rays(ball, Rays::Quality::Full), 100, 200);
    const float expected = 3 * (1 + std::cos(float(M_PI) / 6));
    for (const float v : *way)
      QVERIFY2(std::abs(v / expected - 1) < 0.02f, qPrintable(QString::number(double(v))));
    const auto slab = test::surfaceOf(test::box(12, {40, 2, 40}));
    const auto flat = thickness(Rays(slab, Rays::Quality::Full), 100, 400);
    const float cone = std::cos(float(M_PI) / 6), mean = 2 * std::log(1 / cone) / (1 - cone);
    size_t looked = 0;
    for (size_t i = 0; i < slab->size(); ++i) {
      const Vec3& p = slab->positions[i];
      if (std::max(std::abs(p.x()), std::abs(p.z())) > 15) continue;
      QVERIFY(std::abs((*flat)[i] / mean - 1) < 0.01f);
      ++looked;
    }
    QVERIFY(looked > 100);
  }
  void elevationAndFacing() {
    const auto s = test::surfaceOf(test::sphere(24, 5, {7, 1, -3}));
    const auto high = elevation(*s, Vec3::UnitY()), toward = facing(*s, Vec3::UnitX());
    for (size_t i = 0; i < s->size(); ++i) {
      QVERIFY(std::abs(high[i] - (s->positions[i].y() + 4) / 10) < 1e-5f);
      QVERIFY(std::abs(toward[i] - 0.5f * (1 + s->normals[i].x())) < 1e-6f);
    }
  }
  // A bell from a single spot has the standard deviation asked for, whether it is worked out on the finest
  // graph or on a coarser one, and next to nothing is lost.
  void meltHasTheSoftnessAskedFor() {
    const auto s = test::surfaceOf(test::plane(160, 40));
    const SkinLadder ladder = ladderOf(*s);
    for (const float softness : {0.5f, 1.f, 2.f, 4.f}) {
      std::vector<float> values(s->size(), 0.f);
      size_t middle = 0;
      for (size_t i = 0; i < s->size(); ++i)
        if (s->positions[i].norm() < s->positions[middle].norm()) middle = i;
      values[middle] = 1000;
      melt(ladder, values, softness);
      double mass = 0, spread = 0;
      for (size_t i = 0; i < s->size(); ++i) {
        mass += static_cast<double>(values[i] * s->areas[i]);
        spread += static_cast<double>(values[i] * s->areas[i] * s->positions[i].squaredNorm());
      }
      const double found = std::sqrt(spread / mass / 2);
      qInfo("softness %.1f: found %.3f", double(softness), found);
      // a single sample is the worst case: it sits anywhere in its cell
      QVERIFY(std::abs(mass / (1000.0 * static_cast<double>(s->areas[middle])) - 1) < 0.02);
      QVERIFY2(std::abs(found / static_cast<double>(softness) - 1) < 0.03,
               qPrintable(QString::number(found)));
    }
  }
  void meltNeverCrossesAGap() {
    Sculpt upper = test::plane(60, 20), lower = test::plane(60, 20);
    for (Vec3& v : lower.vertices) v.z() -= 0.1f;
    const auto s = test::surfaceOf(test::together(upper, lower));
    std::vector<float> values(s->size());
    for (size_t i = 0; i < s->size(); ++i) values[i] = s->parts[i] == 0 ? 1.f : 0.f;
    const std::vector<float> before = values;
    melt(ladderOf(*s), values, 5);
    for (size_t i = 0; i < s->size(); ++i) QVERIFY(std::abs(values[i] - before[i]) < 1e-3f);
  }
  void mapsAreMeasuredOnceAndCanBeCancelled() {
    SurfaceMaps maps(test::surfaceOf(test::sphere(40, 5)));
    const MapSetting setting{&kOcclusionMap, 1, Vec3::UnitY()};
    QVERIFY(!maps.known(setting));
    const auto cancelled = maps.map(setting, [](float) { return false; });
    QVERIFY(!cancelled && isCancelled(cancelled.error()));
    QVERIFY(!maps.known(setting));
    float furthest = 0;
    std::mutex guard;
    const auto first = maps.map(setting, [&](float f) {
      const std::lock_guard hold(guard);
      furthest = std::max(furthest, f);
      return true;
    });
    QVERIFY(first);
    QCOMPARE(furthest, 1.f);
    QVERIFY(maps.known(setting));
    QCOMPARE(*maps.map(setting), *first);
    SurfaceMaps other(maps.sharedSurface());
    other.take(toJson(setting).dump(), std::make_shared<MapValues>(3));
    QVERIFY(!other.known(setting));
    other.take(toJson(setting).dump(), *first);
    QCOMPARE(*other.map(setting), *first);
  }
  void settingsGoThroughJson() {
    for (const MapKind* kind : mapKinds()) {
      const MapSetting usual = usualMap(kind, 300);
      const auto back = mapSettingFrom(toJson(usual));
      QVERIFY(back);
      QVERIFY(*back == usual);
      QCOMPARE(mapKind(kind->key), kind);
    }
    using nlohmann::json;
    for (const json& bad :
         {json("cavity"), json{{"map", "shine"}}, json{{"map", "cavity"}},
          json{{"map", "cavity"}, {"scale", 0}}, json{{"map", "facing"}, {"direction", {0, 0, 0}}},
          json{{"map", "facing"}, {"direction", {0, 1}}}}) {
      const auto read = mapSettingFrom(bad);
      QVERIFY(!read);
      QVERIFY(!read.error().what.empty());
    }
  }
};

JUVENOR_TEST(TestMaps)
}  // namespace juvenor
#include "test_maps.moc"
