// From the pen to the skin: which way a tilted pen leans its tip on the skin, whichever way one looks, and
// the string that steadies a hand.
#include <cmath>

#include "core/document/edits/edits.h"
#include "core/document/edits/paint_stroke.h"
#include "core/pen/pen_path.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// A bar: ten times as wide as high.
StampPointer bar() {
  StampLevel full;
  full.width = 80;
  full.height = 80;
  full.shape.assign(80 * 80, 0);
  for (int y = 36; y < 44; ++y) std::fill_n(full.shape.begin() + 80 * y, 80, 65535);
  return std::make_shared<Stamp>("bar", std::move(full));
}

Document tapped(const Document& d, const Camera& camera, const Vec2& tilt, float angle) {
  const ViewSize size{200, 200};
  StrokeSetting setting;
  setting.ink = inkKind("lay");
  setting.layer = d.activeLayer;
  setting.brush.radius = 8;
  setting.brush.pressureSize = setting.brush.pressureFlow = false;
  setting.brush.flow = setting.brush.hardness = 1;
  setting.brush.tip = TipKind::Stamp;
  setting.brush.stamp.stamp = bar();
  setting.brush.turnBy = TurnBy::Tilt;
  setting.brush.angle = angle;
  Flood flood;
  auto stroke = PaintStroke::begin(d, setting, flood);
  if (!stroke) qFatal("%s", stroke.error().what.c_str());
  const auto rays = *d.maps->rays();
  PenPath path({rays.get(), nullptr, camera, size}, setting.brush);
  path.move({{100, 100}, 1, tilt, 0}, (*stroke)->stroke());
  path.finish((*stroke)->stroke());
  return *(*stroke)->finish();
}

// Degrees from x toward y of the longer axis of what is painted, 0…180, by second moments.
double axisOf(const Document& d) {
  double xx = 0, xy = 0, yy = 0;
  const ColorField& field = *layerOf(d, d.activeLayer)->source->painted();
  for (size_t s = 0; s < d.surface->size(); ++s) {
    const double a = field.at(s)[3] / 65535.0;
    const auto x = static_cast<double>(d.surface->positions[s].x()),
               y = static_cast<double>(d.surface->positions[s].y());
    xx += a * x * x;
    xy += a * x * y;
    yy += a * y * y;
  }
  const double spread = std::hypot(xx - yy, 2 * xy);
  if (xx + yy <= 0 || spread < 0.5 * (xx + yy)) return -1;  // no bar
  return std::fmod(std::atan2(2 * xy, xx - yy) / 2 * 180 / M_PI + 360, 180);
}

double between(double a, double b) {
  const double away = std::abs(a - b);
  return std::min(away, 180 - away);
}

}  // namespace

class TestPenPath : public QObject {
  Q_OBJECT
 private slots:
  // The pen of W3C's Pointer Events leans to the right by a positive first tilt and toward the hand by a
  // positive second one; on a plane seen straight from the front those are x and −y.
  void aTipLiesAlongWhereThePenLeans() {
    const Document d = withPaintedLayer(test::documentOf(test::plane(160, 40)), "Paint", Stratum::Pigment);
    const Camera front = framed({}, {200, 200}, d.surface->bounds);
    const std::pair<Vec2, double> cases[] = {{{50, 0}, 0},    {{-50, 0}, 0},   {{0, 50}, 90},
                                             {{40, 40}, 135}, {{40, -40}, 45}, {{0, 0}, 0}};
    for (const auto& [tilt, degrees] : cases) {
      const double axis = axisOf(tapped(d, front, tilt, 0));
      QVERIFY2(axis >= 0 && between(axis, degrees) < 2, qPrintable(QString("tilt %1 %2: %3, not %4")
                                                                       .arg(static_cast<double>(tilt.x()))
                                                                       .arg(static_cast<double>(tilt.y()))
                                                                       .arg(axis)
                                                                       .arg(degrees)));
    }
    QVERIFY(between(axisOf(tapped(d, front, {50, 0}, 30)), 30) < 2);
    // a camera rolled by a quarter: what leans to the right of the picture lies along y of the scene
    Camera rolled = front;
    rolled.turn = Eigen::Quaternionf(Eigen::AngleAxisf(static_cast<float>(M_PI) / 2, Vec3::UnitZ()));
    QVERIFY(between(axisOf(tapped(d, rolled, {50, 0}, 0)), 90) < 2);
    // from behind right is left: the axis is the same, and slanting leans the other way
    Camera behind = front;
    behind.turn = Eigen::Quaternionf(Eigen::AngleAxisf(static_cast<float>(M_PI), Vec3::UnitY()));
    const Document back =
        withPaintedLayer(test::documentOf(test::insideOut(test::plane(160, 40))), "Paint", Stratum::Pigment);
    QVERIFY(between(axisOf(tapped(back, behind, {40, -40}, 0)), 135) < 2);
  }
  // A slack string leaves its end where it is; a taut one pulls it straight toward the pen.
  void aStringPullsItsEndBehindThePen() {
    QCOMPARE(pulled({0, 0}, {6, 8}, 12), Vec2(0, 0));
    const Vec2 end = pulled({0, 0}, {6, 8}, 5);
    QVERIFY((end - Vec2(3, 4)).norm() < 1e-5f);
    QCOMPARE(pulled({2, 2}, {2, 2}, 0), Vec2(2, 2));
  }
};

JUVENOR_TEST(TestPenPath)
}  // namespace juvenor
#include "test_pen_path.moc"
