// How pins move a picture.
#include <random>

#include "core/photo/pin_warp.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Affine2 some(float a, float b, float c, float d, float x, float y) {
  Affine2 out;
  out.linear << a, b, c, d;
  out.offset = {x, y};
  return out;
}

std::vector<PinnedPair> pairs(int count, const std::function<Vec2(const Vec2&)>& to, uint32_t seed = 3) {
  std::mt19937 random(seed);
  std::uniform_real_distribution<float> place(-1, 1);
  std::vector<PinnedPair> out;
  for (int i = 0; i < count; ++i) {
    const Vec2 from(place(random), place(random));
    out.push_back({from, to(from)});
  }
  return out;
}

float farthest(const PinWarp& warp, std::span<const PinnedPair> pins) {
  float out = 0;
  for (const PinnedPair& p : pins) out = std::max(out, (warp(p.from) - p.to).norm());
  return out;
}

}  // namespace

class TestPinWarp : public QObject {
  Q_OBJECT
 private slots:
  void noneLeavesItAndOneMovesIt() {
    const Affine2 lies = some(0.5f, -0.2f, 0.2f, 0.5f, 0.1f, 0.3f);
    const Vec2 x(0.4f, -0.7f);
    QVERIFY((PinWarp({}, lies)(x) - lies(x)).norm() < 1e-6f);
    const std::vector<PinnedPair> one{{{0.2f, 0.2f}, {-0.4f, 0.6f}}};
    const PinWarp warp(one, lies);
    QVERIFY(farthest(warp, one) < 1e-6f);
    QVERIFY((warp(x) - warp(Vec2::Zero()) - lies.linear * x).norm() < 1e-6f);
  }
  void twoTurnAndScaleOnItsSide_data() {
    QTest::addColumn<bool>("mirrored");
    QTest::newRow("as it is") << false;
    QTest::newRow("mirrored") << true;
  }
  void twoTurnAndScaleOnItsSide() {
    QFETCH(const bool, mirrored);
    const float side = mirrored ? -1.f : 1.f;
    const std::vector<PinnedPair> two{{{0, 0}, {1, 1}}, {{1, 0}, {1, 3}}};
    const PinWarp warp(two, some(side, 0, 0, 1, 0, 0));
    QVERIFY(farthest(warp, two) < 1e-6f);
    const Eigen::Matrix2f m = warp.affine().linear;
    QVERIFY(std::abs(m.determinant() - (mirrored ? -4.f : 4.f)) < 1e-5f);
    // a similarity: its columns are as long and square to each other
    QVERIFY(std::abs(m.col(0).norm() - m.col(1).norm()) < 1e-5f && std::abs(m.col(0).dot(m.col(1))) < 1e-5f);
  }
  void threeShear() {
    const Affine2 wanted = some(0.8f, 0.3f, -0.1f, 1.4f, 0.2f, -0.5f);
    const auto pins = pairs(3, wanted);
    const PinWarp warp(pins, {});
    QVERIFY((warp.affine().linear - wanted.linear).norm() < 1e-4f);
    QVERIFY((warp({3, -2}) - wanted({3, -2})).norm() < 1e-4f);
  }
  // pins that ask for an affine map get one, however many
  void manyReproduceAffineMaps() {
    const Affine2 wanted = some(1.1f, -0.4f, 0.6f, 0.9f, 0.3f, 0.1f);
    for (const int count : {4, 9, 30}) {
      const PinWarp warp(pairs(count, wanted), {});
      QVERIFY2((warp({0.3f, 0.8f}) - wanted({0.3f, 0.8f})).norm() < 1e-4f,
               qPrintable(QString::number(count)));
      QVERIFY((warp.slope({0.3f, 0.8f}) - wanted.linear).norm() < 1e-3f);
    }
  }
  // Four pins at the corners of a square (±1, 0), (0, ±1), pushed up and down by one in turn, as in Bookstein
  // 1989: by symmetry there is no affine part, and with w, −w, w, −w the plate is w (U(r1) + U(r2) − U(r3) −
  // U(r4)), where one pin asks U(2) − 2 U(√2) = 4 log 4 − 4 log 2 = 4 log 2 of it.
  void theFourPinsOfBookstein() {
    std::vector<PinnedPair> pins;
    for (const auto& [at, up] :
         {std::pair(Vec2(1, 0), 1.f), {Vec2(-1, 0), 1.f}, {Vec2(0, 1), -1.f}, {Vec2(0, -1), -1.f}})
      pins.push_back({at, at + Vec2(0, up)});
    const PinWarp warp(pins, {});
    const double w = 1 / (4 * std::log(2.0));
    const auto plate = [](const Vec2& d) {
      const double r2 = static_cast<double>(d.squaredNorm());
      return r2 > 0 ? r2 * std::log(r2) : 0.0;
    };
    for (const Vec2& x : {Vec2(0, 0), Vec2(0.5f, 0.2f), Vec2(2, -1), Vec2(-0.3f, 0.9f)}) {
      double wanted = static_cast<double>(x.y());
      for (const PinnedPair& p : pins) wanted += (p.to.y() > p.from.y() ? w : -w) * plate(x - p.from);
      QVERIFY(std::abs(static_cast<double>(warp(x).y()) - wanted) < 1e-5);
      QVERIFY(std::abs(warp(x).x() - x.x()) < 1e-5f);
    }
    QVERIFY(farthest(warp, pins) < 1e-5f && warp.bends());
  }
  void theSlopeIsThatOfTheMap() {
    const PinWarp warp(
        pairs(8, [](const Vec2& x) { return Vec2(x.x() + 0.2f * std::sin(3 * x.y()), x.y() * x.x()); }), {});
    const float h = 1e-3f;
    for (const Vec2& x : {Vec2(0.1f, 0.2f), Vec2(-0.6f, 0.4f)}) {
      Eigen::Matrix2f wanted;
      wanted << (warp(x + Vec2(h, 0)) - warp(x - Vec2(h, 0))) / (2 * h),
          (warp(x + Vec2(0, h)) - warp(x - Vec2(0, h))) / (2 * h);
      QVERIFY((warp.slope(x) - wanted).norm() < 3e-3f);
    }
  }
  void oddPinsAreTakenAsTheyAre() {
    // on one place; on a line; hardly apart
    const std::vector<PinnedPair> same(5, {{0.5f, 0.5f}, {1, 0}});
    QVERIFY(farthest(PinWarp(same, {}), same) < 1e-6f);
    const auto onLine = [](const Vec2& x) { return Vec2(2 * x.x(), 2 * x.y()); };
    std::vector<PinnedPair> line;
    for (int i = 0; i < 6; ++i) {
      const Vec2 at(static_cast<float>(i), 2 * static_cast<float>(i));
      line.push_back({at, onLine(at)});
    }
    const PinWarp flat(line, {});
    QVERIFY(farthest(flat, line) < 1e-4f && !flat.bends());
    QVERIFY(std::abs(flat.affine().linear.determinant() - 4) < 1e-3f);
    std::vector<PinnedPair> near = pairs(6, [](const Vec2& x) { return x; });
    for (PinnedPair& p : near) p.from *= 1e-6f;
    QVERIFY(PinWarp(near, {})({0.2f, 0.1f}).allFinite());
  }
};

JUVENOR_TEST(TestPinWarp)

}  // namespace juvenor

#include "test_pin_warp.moc"
