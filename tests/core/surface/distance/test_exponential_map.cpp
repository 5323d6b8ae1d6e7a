// Skin laid flat: against unrolling where it can be unrolled, against geodesic polar coordinates on a sphere.
#include "core/surface/build/search.h"
#include "core/surface/distance/exponential_map.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

SkinChart chartOf(const Surface& surface, const Vec3& place, const Vec3& along, float reach) {
  SurfacePoint at;
  const uint32_t s = *nearestSample(surface, place, 1e6f);
  at.position = surface.positions[s];
  at.normal = surface.normals[s];
  at.part = surface.parts[s];
  ExponentialMap map;
  SkinChart out;
  map.find(surface, at, along, reach, out);
  return out;
}

// The worst and the mean distance between a chart and what it should be, in parts of the reach.
template <class Exact>
std::pair<double, double> errors(const Surface& surface, const SkinChart& chart, float reach, Exact exact) {
  double worst = 0, sum = 0;
  for (size_t i = 0; i < chart.samples.size(); ++i) {
    const double off =
        static_cast<double>((chart.places[i] - exact(surface.positions[chart.samples[i]])).norm() / reach);
    worst = std::max(worst, off);
    sum += off;
  }
  return {worst, sum / static_cast<double>(std::max<size_t>(1, chart.samples.size()))};
}

std::string told(const std::pair<double, double>& e) {
  return "worst " + std::to_string(e.first) + ", mean " + std::to_string(e.second);
}

}  // namespace

class TestExponentialMap : public QObject {
  Q_OBJECT
 private slots:
  void aPlaneStaysAsItIs() {
    const auto s = test::surfaceOf(test::plane(60, 30));
    const SkinChart chart = chartOf(*s, {0, 0, 0}, Vec3::UnitY(), 9);
    QVERIFY(chart.samples.size() > 900);
    const Vec3 middle = s->positions[chart.samples.front()];
    // x goes along, y to the left of it
    const auto e =
        errors(*s, chart, 9, [&](const Vec3& p) { return Vec2(p.y() - middle.y(), middle.x() - p.x()); });
    QVERIFY2(e.first < 1e-5, told(e).c_str());
  }
  void aCylinderUnrolls() {
    const auto s = test::surfaceOf(test::cylinder(160, 10, 60));
    const SkinChart chart = chartOf(*s, {10, 0, 0}, Vec3::UnitY(), 14);
    const Vec3 middle = s->positions[chart.samples.front()];
    const float angle = std::atan2(middle.z(), middle.x());
    const auto e = errors(*s, chart, 14, [&](const Vec3& p) {
      float turn = std::atan2(p.z(), p.x()) - angle;
      turn -= 2 * 3.14159265f * std::round(turn / (2 * 3.14159265f));
      return Vec2(p.y() - middle.y(), 10 * turn);
    });
    QVERIFY2(e.first < 0.03 && e.second < 0.01, told(e).c_str());
  }
  void aConeUnrolls() {
    // the plane rolled up: polar coordinates with fewer degrees around
    Sculpt cone = test::plane(120, 40);
    constexpr float kSine = 0.5f;
    for (Vec3& v : cone.vertices) {
      const float r = std::hypot(v.x(), v.y() + 40), turn = std::atan2(v.x(), v.y() + 40) / kSine;
      v = {r * kSine * std::sin(turn), r * std::sqrt(1 - kSine * kSine), r * kSine * std::cos(turn)};
    }
    Sculpt moved = cone;
    const auto s = test::surfaceOf(moved);
    const auto unrolled = [&](const Vec3& p) {
      const float r = p.norm(), turn = std::atan2(p.x(), p.z()) * kSine;
      return Vec2(r * std::sin(turn), r * std::cos(turn));
    };
    const float r = 40;
    const SkinChart chart = chartOf(*s, {0, r * std::sqrt(1 - kSine * kSine), r * kSine}, Vec3::UnitX(), 12);
    const Vec2 middle = unrolled(s->positions[chart.samples.front()]);
    const auto e = errors(*s, chart, 12, [&](const Vec3& p) {
      const Vec2 u = unrolled(p) - middle;
      return Vec2(u.x(), s->normals[chart.samples.front()].z() > 0 ? u.y() : -u.y());
    });
    QVERIFY2(e.first < 0.03 && e.second < 0.01, told(e).c_str());
  }
  // Distances from the middle and directions there are kept; common practice calls 3 % of the reach unseen.
  void aSphereKeepsDistancesAndDirections() {
    constexpr float kRadius = 10;
    const auto s = test::surfaceOf(test::sphere(160, kRadius));
    const SkinChart chart = chartOf(*s, {0, 0, kRadius}, Vec3::UnitX(), 7);
    const Vec3 middle = s->positions[chart.samples.front()].normalized();
    const Vec3 x = (Vec3::UnitX() - middle.x() * middle).normalized(), y = middle.cross(x);
    const auto e = errors(*s, chart, 7, [&](const Vec3& p) {
      const Vec3 n = p.normalized();
      const float angle = std::acos(std::clamp(n.dot(middle), -1.f, 1.f));
      const Vec2 way(n.dot(x), n.dot(y));
      return way.norm() > 0 ? Vec2(kRadius * angle * way.normalized()) : Vec2(0, 0);
    });
    QVERIFY2(e.first < 0.04 && e.second < 0.015, told(e).c_str());
  }
  // Reached from near to far, each sample once, whatever the reach is.
  void itGoesFromNearToFar() {
    const auto s = test::surfaceOf(test::sphere(40, 5));
    for (const float reach : {0.f, 0.3f, 4.f, 1e9f, std::numeric_limits<float>::infinity()}) {
      const SkinChart chart = chartOf(*s, {0, 0, 5}, Vec3::UnitX(), reach);
      QCOMPARE(chart.samples.size(), chart.places.size());
      std::vector<uint32_t> once = chart.samples;
      std::ranges::sort(once);
      QVERIFY(std::ranges::adjacent_find(once) == once.end());
      if (reach > 20) QCOMPARE(chart.samples.size(), s->size());
      if (reach == 4.f) QVERIFY(chart.samples.size() > 200 && chart.samples.size() < s->size() / 2);
      float farthest = 0;
      for (const Vec2& place : chart.places) {
        QVERIFY(place.allFinite());
        // beyond the other pole the front meets itself, and what sides say there has no common mean
        if (farthest > 10) continue;
        // a place settles as the mean of what its neighbours say, a little off the turn it had
        QVERIFY(place.norm() > farthest - s->spacing);
        farthest = std::max(farthest, place.norm());
      }
    }
  }
  // Nothing is left of one chart in the next.
  void chartsDoNotDependOnThoseBefore() {
    const auto s = test::surfaceOf(test::torus(60, 10, 3));
    ExponentialMap map;
    SkinChart used, alone;
    const auto at = [&](const Vec3& place) {
      SurfacePoint out;
      const uint32_t n = *nearestSample(*s, place, 1e6f);
      out.position = s->positions[n];
      out.normal = s->normals[n];
      out.part = s->parts[n];
      return out;
    };
    map.find(*s, at({13, 0, 0}), Vec3::UnitY(), 6, used);
    map.find(*s, at({0, 3, 10}), Vec3::UnitX(), 3, used);
    ExponentialMap().find(*s, at({0, 3, 10}), Vec3::UnitX(), 3, alone);
    QVERIFY(used.samples == alone.samples && used.places == alone.places);
  }
  void itStaysOnItsPart() {
    const auto s = test::surfaceOf(test::together(test::plane(40, 20, "Sheet"), test::sphere(40, 4)));
    const SkinChart chart = chartOf(*s, {9, 9, 0}, Vec3::UnitX(), 30);
    const uint32_t part = s->parts[chart.samples.front()];
    for (const uint32_t sample : chart.samples) QCOMPARE(s->parts[sample], part);
  }
};

JUVENOR_TEST(TestExponentialMap)
}  // namespace juvenor
#include "test_exponential_map.moc"
