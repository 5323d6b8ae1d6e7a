// Points spread over the skin: how far apart, how evenly, the same on coarse and fine forms; where planes cut
// the skin.
#include <set>

#include "core/growth/skin_lines.h"
#include "core/growth/skin_seeds.h"
#include "core/noise/even_noise.h"
#include "core/noise/noise.h"
#include "core/seeded.h"
#include "core/surface/skin_cut.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Sculpt turnedPlane(int cells, float size) {
  Sculpt out = test::plane(cells, size);
  const Eigen::Matrix3f turn =
      (Eigen::AngleAxisf(0.7f, Vec3(1, 2, -0.5f).normalized()) * Eigen::AngleAxisf(1.1f, Vec3::UnitZ()))
          .toRotationMatrix();
  for (Vec3& v : out.vertices) v = turn * v;
  return out;
}

SkinSeeds seedsOn(const Sculpt& sculpt, float distance, uint32_t seed = 1) {
  SurfaceMaps maps(test::surfaceOf(sculpt));
  return **skinSeeds(maps, distance, seed);
}

std::vector<float> nearestOf(std::span<const SkinSeed> seeds) {
  std::vector<float> out;
  for (size_t i = 0; i < seeds.size(); ++i) {
    float best = 1e9f;
    for (size_t k = 0; k < seeds.size(); ++k)
      if (k != i) best = std::min(best, (seeds[i].position - seeds[k].position).norm());
    out.push_back(best);
  }
  return out;
}

float meanOf(const std::vector<float>& values) {
  double sum = 0;
  for (const float v : values) sum += static_cast<double>(v);
  return static_cast<float>(sum / static_cast<double>(values.size()));
}

// How many of some places have another within `near`.
double sharedPart(const SkinSeeds& a, const SkinSeeds& b, float near) {
  size_t found = 0;
  for (const SkinSeed& s : a.seeds)
    found += std::ranges::any_of(b.seeds,
                                 [&](const SkinSeed& o) { return (o.position - s.position).norm() < near; });
  return static_cast<double>(found) / static_cast<double>(a.seeds.size());
}

}  // namespace

class TestSkinSeeds : public QObject {
  Q_OBJECT
 private slots:
  // By area alone, whatever the triangles and their direction (Cauchy and Crofton).
  void linesMeetSkinEvenlyByArea() {
    for (const int cells : {7, 90}) {
      const auto hits = *skinLines(*test::surfaceOf(turnedPlane(cells, 10)), 0.1f, 5);
      // 100 square units, 100 cells each
      QVERIFY2(std::abs(static_cast<double>(hits.size()) / 10'000 - 1) < 0.03,
               qPrintable(QString::number(hits.size())));
    }
    const auto round = *skinLines(*test::surfaceOf(test::sphere(80, 2)), 0.06f, 5);
    const double wanted = 4 * 3.14159265 * 4 / (0.06 * 0.06);
    QVERIFY2(std::abs(static_cast<double>(round.size()) / wanted - 1) < 0.03,
             qPrintable(QString::number(static_cast<double>(round.size()) / wanted)));
    // as many on every eighth of it
    std::array<int, 8> eighths{};
    for (const LineHit& hit : round)
      ++eighths[static_cast<size_t>((hit.position.x() > 0) + 2 * (hit.position.y() > 0) +
                                    4 * (hit.position.z() > 0))];
    for (const int count : eighths) QVERIFY(std::abs(count / (wanted / 8) - 1) < 0.08);
  }
  void noTwoAreNearerThanTheDistance() {
    for (const Sculpt& sculpt : {turnedPlane(60, 10), test::sphere(60, 3), test::torus(40, 3, 1.2f)}) {
      const SkinSeeds seeds = seedsOn(sculpt, 0.4f);
      QVERIFY(seeds.seeds.size() > 300);
      const auto nearest = nearestOf(seeds.seeds);
      QVERIFY(*std::ranges::min_element(nearest) >= 0.4f * 0.9999f);
    }
  }
  void thereAreAsManyAsTold() {
    const SkinSeeds seeds = seedsOn(turnedPlane(50, 20), 0.3f);
    const double told = 400 * static_cast<double>(seeds.density);
    QVERIFY2(std::abs(static_cast<double>(seeds.seeds.size()) / told - 1) < 0.04,
             qPrintable(QString::number(static_cast<double>(seeds.seeds.size()) / told)));
    QVERIFY(std::abs(seedDensity(seedDistance(7.f)) - 7) < 1e-4f);
  }
  // Clark and Evans 1954: the mean distance to the nearest over that of random points, 1 / (2 √density); 1 is
  // random, 2.149 a hexagonal lattice. Darts that fill a plane come to about 1.4.
  void everyBeginningIsSpreadEvenly() {
    const SkinSeeds all = seedsOn(turnedPlane(80, 20), 0.22f);
    for (const float part : {0.06f, 0.125f, 0.25f, 0.5f, 1.f}) {
      const auto end = std::ranges::upper_bound(all.seeds, part, {}, &SkinSeed::rank);
      const std::span<const SkinSeed> some(all.seeds.begin(), end);
      const double share = static_cast<double>(some.size()) / static_cast<double>(all.seeds.size());
      QVERIFY2(std::abs(share / static_cast<double>(part) - 1) < 0.1, qPrintable(QString::number(share)));
      const float random = 0.5f / std::sqrt(static_cast<float>(some.size()) / 400);
      const float even = meanOf(nearestOf(some)) / random;
      QVERIFY2(even > 1.3f, qPrintable(QString("%1 at %2").arg(even).arg(part)));
    }
  }
  void coarseAndFineFormsGetTheSame() {
    QVERIFY(sharedPart(seedsOn(turnedPlane(20, 10), 0.5f), seedsOn(turnedPlane(130, 10), 0.5f), 0.01f) >
            0.97);
    const double round =
        sharedPart(seedsOn(test::sphere(60, 5), 0.8f), seedsOn(test::sphere(240, 5), 0.8f), 0.05f);
    // chords of the coarse one lie a little below
    QVERIFY2(round > 0.85, qPrintable(QString::number(round)));
    QVERIFY(sharedPart(seedsOn(turnedPlane(20, 10), 0.5f), seedsOn(turnedPlane(20, 10), 0.5f, 2), 0.01f) <
            0.2);
  }
  void farSidesAndOtherPartsDoNotCount() {
    // a plate thinner than the distance: both sides are as full as one alone
    const SkinSeeds plate = seedsOn(test::box(20, {8, 8, 0.1f}), 0.4f);
    const auto up = std::ranges::count_if(plate.seeds, [](const SkinSeed& s) { return s.normal.z() > 0.9f; });
    const auto down =
        std::ranges::count_if(plate.seeds, [](const SkinSeed& s) { return s.normal.z() < -0.9f; });
    const double one = 64 * static_cast<double>(plate.density);
    QVERIFY(static_cast<double>(up) > 0.85 * one && static_cast<double>(down) > 0.85 * one);
  }
  void itCanBeCancelledAndGoesOnWithSlivers() {
    SurfaceMaps maps(test::surfaceOf(test::sphere(60, 3)));
    const auto given = skinSeeds(maps, 0.02f, 1, [](float f) { return f < 0.3f; });
    QVERIFY(!given && isCancelled(given.error()));
    QVERIFY(!hasSkinSeeds(maps, 0.02f, 1));
    // one triangle as long as the world and as thin as nothing
    Sculpt sliver;
    sliver.vertices = {{0, 0, 0}, {1000, 1000, 1000}, {1000, 1000, 1000.001f}};
    sliver.polygonStart = {0, 3};
    sliver.corners = {0, 1, 2};
    sliver.parts = {"sliver"};
    sliver.polygonPart = {0};
    SurfaceMaps thin(test::surfaceOf(sliver));
    QVERIFY(skinSeeds(thin, 1e-6f, 1));
  }
  // Whatever the threads do: also on skin so folded that a line meets it twice within the distance.
  void seedsAreTheSameEachTime() {
    Sculpt folds = test::plane(150, 10);
    for (Vec3& v : folds.vertices) v.z() += 1.2f * std::sin(9 * v.x()) + 0.5f * std::sin(7 * v.y());
    const SkinSeeds first = seedsOn(folds, 0.5f);
    QVERIFY(first.seeds.size() > 500);
    for (int again = 0; again < 3; ++again) {
      const SkinSeeds other = seedsOn(folds, 0.5f);
      QCOMPARE(other.seeds.size(), first.seeds.size());
      for (size_t i = 0; i < first.seeds.size(); ++i)
        QVERIFY(other.seeds[i].position == first.seeds[i].position &&
                other.seeds[i].key == first.seeds[i].key && other.seeds[i].rank == first.seeds[i].rank);
    }
  }
  // Lane by lane or place by place: the same noise, also so far out that a float holds no part of a cell.
  void rowsOfNoiseAreNoise() {
    Draws draws(5);
    PlaceRow places(1'003);
    std::vector<Vec3> all;
    for (size_t i = 0; i < places.size(); ++i) {
      const float x = draws.around(), y = draws.around(), z = draws.around();
      all.push_back((i % 100 == 99 ? 1e30f : 300.f) * Vec3(x, y, z));
      places.set(i, all.back());
    }
    const float size = 1.7f;
    const auto plain = perlinRow(places, size, 9), cloud = rawNoise(NoiseKind::Cloud, places, size, {}, 9),
               ridged = rawNoise(NoiseKind::Ridged, places, size, {}, 9),
               cells = rawNoise(NoiseKind::Cells, places, size, {}, 9);
    for (size_t i = 0; i < all.size(); ++i) {
      QVERIFY(std::isfinite(plain[i]) && std::isfinite(cloud[i]) && std::isfinite(cells[i]));
      if (i % 100 == 99) continue;
      Vec3 p = all[i] / size;
      QVERIFY(std::abs(plain[i] - perlin(p, 9)) < 2e-4f);
      QVERIFY(std::abs(cells[i] + 0.5f - worley(p, 9).first) < 2e-4f);
      float sum = 0, folded = 0, strength = 1;
      for (uint32_t octave = 0; octave < 4; ++octave, p *= 2.03f, strength *= 0.55f) {
        const float n = perlin(p, 9 + 101 * octave);
        sum += strength * n;
        folded += strength * (0.25f - std::abs(n));
      }
      QVERIFY(std::abs(cloud[i] - sum) < 1e-3f);
      QVERIFY(std::abs(ridged[i] - folded) < 1e-3f);
    }
  }
  // Any tenth of the values is as common as any other.
  void noiseIsSpreadEvenly() {
    Draws draws(3);
    for (const NoiseKind kind : {NoiseKind::Cloud, NoiseKind::Cells, NoiseKind::Ridged}) {
      std::array<int, 10> tenths{};
      constexpr size_t kProbes = 60'003;
      PlaceRow places(kProbes);
      for (size_t i = 0; i < kProbes; ++i) {
        const float x = draws.unit(), y = draws.unit(), z = draws.unit();
        places.set(i, 900 * Vec3(x, y, z));
      }
      for (const float v : evenNoise(kind, places, 1, {}, 77)) {
        QVERIFY(v >= 0 && v <= 1);
        ++tenths[static_cast<size_t>(std::min(9.f, 10 * v))];
      }
      for (const int t : tenths) QVERIFY(std::abs(t / (0.1 * kProbes) - 1) < 0.06);
      // finer than the samples there is none
      const std::vector<float> calm = evenNoise(kind, places, 1, std::vector<float>(kProbes, 2.f), 77);
      QVERIFY(std::ranges::all_of(calm, [&](float v) { return v == calm[0]; }));
    }
  }
  void noiseMapsFollowTheSculptNotThePose() {
    SurfaceMaps maps(test::surfaceOf(test::plane(120, 10)));
    MapSetting cloud{&kCloudMap, 1.5f, Vec3::UnitY(), 4};
    const auto one = *maps.map(cloud);
    cloud.seed = 5;
    const auto other = *maps.map(cloud);
    QVERIFY(*one != *other);
    size_t above = 0;
    for (const uint16_t v : *one) above += v > 32768;
    QVERIFY(std::abs(static_cast<double>(above) / static_cast<double>(one->size()) - 0.5) < 0.12);
    const auto read = mapSettingFrom(toJson(cloud));
    QVERIFY(read && *read == cloud);
  }
  void aPlaneCutsASphereInACircle() {
    const auto s = test::surfaceOf(test::sphere(120, 5));
    const CutPlane plane{Vec3(0.3f, 1, 0.2f).normalized(), 2};
    const SkinCut cut = cutThrough(*s, plane, kNone, {5, 0, 0});
    QVERIFY(cut.closed);
    const SkinCut round = roundFrom(cut, {5, 0, 0});
    double length = 0;
    for (size_t i = 1; i < round.points.size(); ++i)
      length += static_cast<double>((round.points[i].position - round.points[i - 1].position).norm());
    const double wanted = 2 * 3.14159265 * std::sqrt(25.0 - 4);
    QVERIFY2(std::abs(length / wanted - 1) < 0.01, qPrintable(QString::number(length / wanted)));
    for (const SurfacePoint& p : round.points)
      QVERIFY(std::abs(p.position.dot(plane.normal) - plane.offset) < 1e-3f);
    QVERIFY((round.points.front().position - round.points.back().position).norm() < 1e-5f);
    // between two places the shorter way
    const Vec3 a = round.points[10].position, b = round.points[30].position;
    QCOMPARE(stretchOf(cut, a, b).points.size(), size_t{21});
    QVERIFY((stretchOf(cut, a, b).points.front().position - a).norm() < 1e-5f);
    QVERIFY((stretchOf(cut, a, b).points.back().position - b).norm() < 1e-5f);
  }
  void aCutOfOpenSkinEndsAtItsEdges() {
    const auto s = test::surfaceOf(test::plane(50, 10));
    const SkinCut cut = cutThrough(*s, {Vec3::UnitX(), 1.03f}, kNone, {1, 2, 0});
    QVERIFY(!cut.closed);
    QVERIFY(std::abs((cut.points.front().position - cut.points.back().position).norm() - 10) < 1e-3f);
    for (size_t i = 2; i < cut.points.size(); ++i)
      QVERIFY((cut.points[i].position - cut.points[i - 1].position)
                  .dot(cut.points[i - 1].position - cut.points[i - 2].position) > -1e-6f);
    QVERIFY(cutThrough(*s, {Vec3::UnitX(), 7}, kNone, {1, 2, 0}).points.empty());
    QVERIFY(stretchOf({}, {}, {}).points.empty());
    // of two parts the one that was asked for
    const auto two =
        test::surfaceOf(test::together(test::sphere(40, 2, {-3, 0, 0}), test::sphere(40, 2, {3, 0, 0})));
    const SkinCut right = cutThrough(*two, {Vec3::UnitY(), 0.1f}, 1, {-3, 0, 2});
    QVERIFY(!right.points.empty() && right.points.front().position.x() > 0);
  }
};

JUVENOR_TEST(TestSkinSeeds)
}  // namespace juvenor
#include "test_skin_seeds.moc"
