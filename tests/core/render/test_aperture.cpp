// What closed-in places mirror, against rays.
#include "core/render/aperture.h"

#include "core/render/lighting.h"
#include "core/render/shine.h"
#include "core/surface/build/search.h"
#include "core/surface/rays/ray_directions.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// A floor with a wall along it, on the side of −x.
std::shared_ptr<const Surface> corner() {
  Sculpt wall = test::plane(40, 20, "Wall");
  for (Vec3& v : wall.vertices) v = Vec3(0, v.y(), v.x() + 10);
  Sculpt floor = test::plane(40, 20, "Floor");
  for (Vec3& v : floor.vertices) v.x() += 10;
  return test::surfaceOf(test::together(floor, wall));
}

// The part of a lobe's reflected light that meets nothing, by rays spread as the facets lie.
float openByRays(const Rays& rays, const Vec3& place, const Vec3& normal, const Vec3& toViewer, float width) {
  constexpr uint32_t kRays = 512;
  int free = 0, all = 0;
  const Vec3 side = normal.unitOrthogonal(), other = normal.cross(side);
  for (uint32_t k = 0; k < kRays; ++k) {
    const Vec2 u = spreadPoint(7, k);
    const float cosine = std::sqrt((1 - u.x()) / (1 + (width * width - 1) * u.x()));
    const float sine = std::sqrt(std::max(0.f, 1 - cosine * cosine)), around = 6.2831853f * u.y();
    const Vec3 half = sine * std::cos(around) * side + sine * std::sin(around) * other + cosine * normal;
    const Vec3 out = 2 * half.dot(toViewer) * half - toViewer;
    if (out.dot(normal) <= 0) continue;
    ++all;
    free += !rays.blocked({place + 1e-3f * normal, out}, 100);
  }
  return static_cast<float>(free) / static_cast<float>(std::max(1, all));
}

}  // namespace

class TestAperture : public QObject {
  Q_OBJECT
 private slots:
  void directionsFitIntoTwoBytes() {
    for (uint32_t k = 0; k < 2000; ++k) {
      const Vec2 u = spreadPoint(1, k);
      const float up = 1 - 2 * u.x(), flat = std::sqrt(std::max(0.f, 1 - up * up));
      const Vec3 d(flat * std::cos(6.2831853f * u.y()), up, flat * std::sin(6.2831853f * u.y()));
      QVERIFY(unpackedDirection(packedDirection(d)).dot(d) > std::cos(0.02f));
    }
    for (const Vec3& axis : {Vec3(1, 0, 0), Vec3(0, -1, 0), Vec3(0, 0, -1)})
      QVERIFY((unpackedDirection(packedDirection(axis)) - axis).norm() < 1e-6f);
  }
  void theOpenMirrorsAllAndTheClosedNothing() {
    const Vec3 up = Vec3::UnitY();
    for (const float width : {0.003f, 0.1f, 0.5f, 1.f})
      for (float lean = 0; lean < 1.5f; lean += 0.1f) {
        const Vec3 mirror(std::sin(lean), std::cos(lean), 0);
        QVERIFY(std::abs(mirroredThrough({1, up}, up, mirror, width) - 1) < 1e-3f);
        QVERIFY(mirroredThrough({0, up}, up, mirror, width) < 0.02f);
      }
    // a hole that looks aside mirrors the sky on that side
    const Vec3 aside = Vec3(1, 1, 0).normalized();
    QVERIFY(mirroredThrough({0.4f, aside}, up, aside, 0.02f) > 0.95f);
    QVERIFY(mirroredThrough({0.4f, aside}, up, Vec3(-1, 1, 0).normalized(), 0.02f) < 0.05f);
  }
  // On a floor beside a wall: what the aperture says is nearer to what rays find than the one number that is
  // the same on every side (Lagarde and de Rousiers 2014).
  void besideAWallItIsAboutWhatRaysFind() {
    const auto surface = corner();
    const Rays rays(surface, Rays::Quality::Full);
    Lighting lighting(surface);
    lighting.settle(rays);
    double by = 0, one = 0;
    int count = 0;
    for (const float far : {1.f, 2.f, 4.f}) {
      const auto s = *nearestSample(*surface, {far, 0.1f, 0}, 1, 0);
      const Vec3& n = surface->normals[s];
      const OpenSample open = lighting.open()[s];
      const Aperture aperture{static_cast<float>(open.sky) / 255, unpackedDirection(open.toward)};
      QVERIFY(aperture.toward.x() > 0.1f && aperture.open < 0.95f);
      for (const float width : {0.01f, 0.1f, 0.3f})
        for (float lean = -75; lean <= 75; lean += 15) {
          const float a = lean * static_cast<float>(M_PI) / 180;
          const Vec3 toViewer(std::sin(a), 0, std::cos(a)), mirror(-std::sin(a), 0, std::cos(a));
          const float truth = openByRays(rays, surface->positions[s], n, toViewer, width);
          const float cosOut = std::max(0.01f, n.dot(toViewer));
          const float number = std::clamp(
              std::pow(cosOut + aperture.open, std::exp2(-16 * std::sqrt(width) - 1)) - 1 + aperture.open,
              0.f, 1.f);
          by += static_cast<double>(std::abs(mirroredThrough(aperture, n, mirror, width) - truth));
          one += static_cast<double>(std::abs(number - truth));
          ++count;
        }
    }
    QVERIFY2(by < 0.6 * one && by / count < 0.2,
             qPrintable(QString("%1 %2").arg(by / count).arg(one / count)));
  }
};

JUVENOR_TEST(TestAperture)
}  // namespace juvenor
#include "test_aperture.moc"
