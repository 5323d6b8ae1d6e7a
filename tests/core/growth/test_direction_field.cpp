// Directions over the skin: what topology demands of them (Poincaré 1885, Hopf 1927: the indices of singular
// places add up to the Euler characteristic), what closed forms say on flat and on round skin, gaps, density.
#include <cmath>

#include "core/growth/direction_field.h"
#include "core/surface/build/search.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr float kHalfTurn = 3.14159265f;

struct Ground {
  std::shared_ptr<const Surface> surface;
  std::shared_ptr<const SkinLadder> ladder;
  DirectionLadder directions;

  explicit Ground(const Sculpt& sculpt)
      : surface(test::surfaceOf(sculpt)),
        ladder(std::make_shared<SkinLadder>(skinLadder(skinGraph(*surface), surface->spacing))),
        directions(*surface, ladder) {}
  std::vector<Vec3> field(const DirectionSetting& setting, std::span<const DirectionWish> wishes = {}) const {
    return *directionField(*surface, directions, setting, wishes);
  }
};

// Times the symmetry: how often the field turns around in each triangle against the skin itself.
std::vector<int> indicesOf(const Surface& surface, std::span<const Vec3> field, int symmetry) {
  const TangentFrames frames(surface.normals);
  const auto at = [&](uint32_t s) { return powerOf(frames.numberOf(field[s], s), symmetry); };
  std::vector<int> out;
  for (const Triangle& t : surface.triangles) {
    float turn = 0;
    std::complex<float> around(1, 0);
    for (size_t k = 0; k < 3; ++k) {
      const uint32_t a = t[k], b = t[(k + 1) % 3];
      turn += std::arg(at(b) * std::conj(frames.transport(a, frames, b, symmetry) * at(a)));
      around *= frames.transport(a, frames, b, 1);
    }
    const float whole = turn + static_cast<float>(symmetry) * std::arg(around);
    out.push_back(static_cast<int>(std::lround(whole / (2 * kHalfTurn))));
  }
  return out;
}

// The angle between two directions that look alike after a part of a turn, degrees.
float apart(const Vec3& a, const Vec3& b, int symmetry) {
  const float angle = std::acos(std::clamp(a.normalized().dot(b.normalized()), -1.f, 1.f));
  const float period = 2 * kHalfTurn / static_cast<float>(symmetry);
  const float rest = std::fmod(angle, period);
  return std::min(rest, period - rest) * 180 / kHalfTurn;
}

}  // namespace

class TestDirectionField : public QObject {
  Q_OBJECT
 private slots:
  void indicesAddUpToTheEulerCharacteristic_data() {
    QTest::addColumn<int>("symmetry");
    QTest::addColumn<bool>("sphere");
    for (const int symmetry : {1, 2, 4})
      for (const bool sphere : {false, true})
        QTest::addRow("%s, %d", sphere ? "sphere" : "torus", symmetry) << symmetry << sphere;
  }

  // 2 on a sphere, in no more singular places than there must be; 0 on a torus, and none at all where its
  // main directions show the way.
  void indicesAddUpToTheEulerCharacteristic() {
    QFETCH(int, symmetry);
    QFETCH(bool, sphere);
    const Ground ground(sphere ? test::sphere(64, 10) : test::torus(48, 10, 4));
    DirectionSetting setting;
    setting.symmetry = static_cast<Symmetry>(symmetry);
    if (!sphere) setting.curvature = 0.3f;
    const auto indices = indicesOf(*ground.surface, ground.field(setting), symmetry);
    int sum = 0, places = 0;
    for (const int i : indices) {
      sum += i;
      places += i != 0;
    }
    QCOMPARE(sum, sphere ? 2 * symmetry : 0);
    QCOMPARE(places, sphere ? 2 * symmetry : 0);
  }

  // Between two rims that want different directions the angle of the smoothest field is linear on flat skin.
  void turnsEvenlyBetweenTwoRims() {
    const Ground ground(test::plane(64, 20));
    std::vector<DirectionWish> wishes;
    for (uint32_t s = 0; s < ground.surface->size(); ++s)
      if (const float x = ground.surface->positions[s].x(); std::abs(x) > 9.9f)
        wishes.push_back({s, x < 0 ? Vec3::UnitX() : Vec3::UnitY(), 1});
    const auto field = ground.field({Symmetry::Direction, Vec3::Zero(), 0, 10}, wishes);
    for (uint32_t s = 0; s < field.size(); ++s) {
      const float turn = (ground.surface->positions[s].x() + 10) / 20 * kHalfTurn / 2;
      QVERIFY2(apart(field[s], Vec3(std::cos(turn), std::sin(turn), 0), 1) < 4,
               qPrintable(QString::number(ground.surface->positions[s].x())));
    }
  }

  void goesAlongALimb_data() {
    QTest::addColumn<int>("symmetry");
    for (const int symmetry : {1, 2, 4}) QTest::addRow("%d", symmetry) << symmetry;
  }

  // The main directions of a cylinder are its axis and the way around it; the least bent is the axis.
  void goesAlongALimb() {
    QFETCH(int, symmetry);
    const Ground ground(test::cylinder(64, 5, 30));
    const Vec3 flow = symmetry == 1 ? Vec3(0.3f, -1, 0.2f).normalized() : Vec3::Zero();
    const auto field = ground.field({static_cast<Symmetry>(symmetry), flow, 1, 5});
    for (size_t s = 0; s < field.size(); ++s) {
      QVERIFY(std::abs(field[s].norm() - 1) < 1e-4f);
      QVERIFY(std::abs(field[s].dot(ground.surface->normals[s])) < 1e-3f);
      QVERIFY(apart(field[s], -Vec3::UnitY(), symmetry) < 6);
    }
  }

  void followsTheFlowAndGivesWayToTheComb() {
    const Ground ground(test::plane(64, 20));
    const DirectionSetting setting{Symmetry::Direction, Vec3(0, -1, -1).normalized(), 0, 10};
    const auto plain = ground.field(setting);
    for (const Vec3& d : plain) QVERIFY(apart(d, -Vec3::UnitY(), 1) < 1);
    std::vector<DirectionWish> wishes;
    for (uint32_t s = 0; s < ground.surface->size(); ++s)
      if (ground.surface->positions[s].norm() < 1) wishes.push_back({s, Vec3::UnitX(), 1});
    const auto combed = ground.field(setting, wishes);
    for (uint32_t s = 0; s < combed.size(); ++s) {
      if (ground.surface->positions[s].norm() < 0.8f) QVERIFY(apart(combed[s], Vec3::UnitX(), 1) < 6);
      // the comb is felt around, less and less
      if (ground.surface->positions[s].x() > 9.9f) QVERIFY(apart(combed[s], -Vec3::UnitY(), 1) < 60);
    }
  }

  void neverCrossesAGap() {
    Sculpt upper = test::plane(32, 20, "Upper");
    for (Vec3& v : upper.vertices) v.z() += 0.05f;
    const Ground ground(test::together(test::plane(32, 20), upper));
    std::vector<DirectionWish> wishes;
    for (uint32_t s = 0; s < ground.surface->size(); ++s)
      wishes.push_back({s, ground.surface->parts[s] == 0 ? Vec3::UnitX() : Vec3::UnitY(), 1});
    std::erase_if(wishes, [&](const DirectionWish& w) {
      return ground.surface->positions[w.sample].head<2>().norm() > 3;
    });
    const auto field = ground.field({Symmetry::Direction, Vec3::Zero(), 0, 10}, wishes);
    for (size_t s = 0; s < field.size(); ++s)
      QVERIFY(apart(field[s], ground.surface->parts[s] == 0 ? Vec3::UnitX() : Vec3::UnitY(), 1) < 1);
  }

  // A coarse and a fine sculpt of the same form are combed alike.
  void looksAlikeAtAnyDensity() {
    const auto fieldOf = [](const Ground& ground) {
      std::vector<DirectionWish> wishes;
      for (uint32_t s = 0; s < ground.surface->size(); ++s)
        if ((ground.surface->positions[s] - Vec3(0, 0, 10)).norm() < 1.5f)
          wishes.push_back({s, Vec3::UnitX(), 1});
      return ground.field({Symmetry::Direction, -Vec3::UnitY(), 0, 10}, wishes);
    };
    const Ground coarse(test::sphere(80, 10)), fine(test::sphere(160, 10));
    const auto a = fieldOf(coarse), b = fieldOf(fine);
    float sum = 0;
    int count = 0;
    for (uint32_t s = 0; s < a.size(); ++s) {
      const Vec3& p = coarse.surface->positions[s];
      if (std::abs(p.y()) > 8) continue;  // around the poles of the flow
      const uint32_t near = *nearestSample(*fine.surface, p, 5);
      sum += apart(a[s], b[near], 1);
      ++count;
    }
    QVERIFY(count > 1000);
    QVERIFY2(sum / static_cast<float>(count) < 4,
             qPrintable(QString::number(static_cast<double>(sum / static_cast<float>(count)))));
  }

  void canBeCancelled() {
    const Ground ground(test::sphere(32, 10));
    const auto out = directionField(*ground.surface, ground.directions, {}, {}, [](float) { return false; });
    QVERIFY(!out && isCancelled(out.error()));
  }

  void tinyAndLooseSculptsAreFine() {
    const Ground tiny(test::plane(1, 2));
    for (const Vec3& d : tiny.field({Symmetry::Direction, Vec3::UnitX(), 1, 1}))
      QVERIFY(apart(d, Vec3::UnitX(), 1) < 1);
    const Ground loose(test::soup(test::sphere(12, 10)));
    for (const Vec3& d : loose.field({Symmetry::Line, Vec3::UnitX(), 1, 1}))
      QVERIFY(std::abs(d.norm() - 1) < 1e-4f);
  }
};

JUVENOR_TEST(TestDirectionField)
}  // namespace juvenor
#include "test_direction_field.moc"
