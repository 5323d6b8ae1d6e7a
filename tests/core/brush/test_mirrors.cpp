// Strokes mirrored in a plane of the figure's own: on a mirroredBall every plane through its middle is one.
#include "core/carry/carry_over.h"
#include "core/document/edits/edits.h"
#include "core/document/edits/paint_stroke.h"
#include "core/document/store/state_json.h"
#include "core/surface/build/search.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

MirrorPlane tilted() {
  return {Vec3(0.9f, 0.3f, -0.3f).normalized(), 0};
}

Document mirroredBall(const MirrorPlane& plane) {
  return *withMirrorPlane(
      withPaintedLayer(test::documentOf(test::sphere(120, 50)), "Paint", Stratum::Pigment), plane);
}

Document mirroredStroke(const Document& d, const std::vector<Vec3>& way,
                        const std::function<void(Brush&)>& change) {
  StrokeSetting setting;
  setting.ink = inkKind("lay");
  setting.layer = d.activeLayer;
  setting.paint.color = {0.8f, 0.3f, 0.2f};
  setting.brush.radius = 5;
  setting.brush.pressureSize = setting.brush.pressureFlow = false;
  setting.brush.mirror[0] = true;
  change(setting.brush);
  Flood flood;
  auto painting = *PaintStroke::begin(d, setting, flood);
  for (const Vec3& p : way) {
    SurfacePoint at;
    at.position = p;
    at.normal = at.toViewer = p.normalized();
    painting->stroke().moveTo(at, 1);
  }
  painting->stroke().end();
  return *painting->finish();
}

// How much lies on one side of a plane, and its middle.
struct Laid {
  double amount = 0;
  Vec3 middle = Vec3::Zero();
};
Laid laidOn(const Document& d, const std::function<bool(const Vec3&)>& counts) {
  Laid out;
  const ColorField& paint = *d.layers.back()->source->painted();
  for (size_t s = 0; s < paint.size(); ++s) {
    const Vec3& p = d.surface->positions[s];
    const float a = static_cast<float>(colorAt(paint, s).a) / 65535 * d.surface->areas[s];
    if (!counts(p)) continue;
    out.amount += static_cast<double>(a);
    out.middle += a * p;
  }
  out.middle /= static_cast<float>(std::max(1e-9, out.amount));
  return out;
}

}  // namespace

class TestMirrors : public QObject {
  Q_OBJECT
 private slots:
  void coordinatesAreMirroredToTheBit() {
    const Mirrors mirrors;
    const Vec3 p(0.1f, -7.3e-6f, 1e7f);
    for (int which = 0; which < 8; ++which) {
      const Mirrors::Across across{(which & 1) != 0, (which & 2) != 0, (which & 4) != 0};
      const Vec3 wanted(across[0] ? -p.x() : p.x(), across[1] ? -p.y() : p.y(), across[2] ? -p.z() : p.z());
      QVERIFY(mirrors.place(p, across) == wanted && mirrors.direction(p, across, p) == wanted);
    }
    QCOMPARE(mirrors.side(p, 1), p.y());
    QVERIFY(mirrors.onPlane(p, 2) == Vec3(p.x(), p.y(), 0));
  }
  // Householder's reflection, written out; the other two planes stand across it.
  void aPlaneOfItsOwn() {
    const MirrorPlane plane{Vec3(0.8f, 0, 0.6f), 3};
    const Mirrors mirrors(plane);
    const Vec3 p(4, -5, 6);
    const float away = 0.8f * 4 + 0.6f * 6 - 3;
    const Vec3 wanted(4 - 2 * away * 0.8f, -5, 6 - 2 * away * 0.6f);
    QVERIFY((mirrors.place(p, {true, false, false}) - wanted).norm() < 1e-5f);
    QVERIFY((plane.mirrored(p) - wanted).norm() < 1e-5f);
    QVERIFY(std::abs(mirrors.side(p, 0) - away) < 1e-5f);
    QVERIFY(std::abs(mirrors.side(mirrors.onPlane(p, 0), 0)) < 1e-5f);
    for (int which = 0; which < 8; ++which) {
      const Mirrors::Across across{(which & 1) != 0, (which & 2) != 0, (which & 4) != 0};
      QVERIFY((mirrors.place(mirrors.place(p, across), across) - p).norm() < 1e-5f);
      QVERIFY(std::abs(mirrors.direction(p, across, p).norm() - p.norm()) < 1e-5f);
    }
  }
  void strokesFindTheOtherSide_data() {
    QTest::addColumn<int>("tip");
    QTest::newRow("falloff") << static_cast<int>(TipKind::Falloff);
    QTest::newRow("spray") << static_cast<int>(TipKind::Spray);
  }
  void strokesFindTheOtherSide() {
    QFETCH(const int, tip);
    const MirrorPlane plane = tilted();
    const Vec3 on = 50 * Vec3(0.7f, 0.5f, 0.52f).normalized(), to = 50 * Vec3(0.8f, 0.4f, 0.45f).normalized();
    const Document d = mirroredStroke(mirroredBall(plane), {on, to}, [&](Brush& b) {
      b.tip = static_cast<TipKind>(tip);
      b.spray.density = 1.5f;
      b.spray.dotRadius = 0.6f;
      b.flow = 1;
    });
    const auto side = [&](bool own) {
      return laidOn(d, [&](const Vec3& p) { return (plane.normal.dot(p) > 0) == own; });
    };
    const Laid own = side(plane.normal.dot(on) > 0), other = side(plane.normal.dot(on) <= 0);
    QVERIFY2(own.amount > 8, qPrintable(QString::number(own.amount)));
    QVERIFY2(std::abs(own.amount - other.amount) < 0.1 * own.amount,
             qPrintable(QString("%1 and %2").arg(own.amount).arg(other.amount)));
    QVERIFY((plane.mirrored(own.middle) - other.middle).norm() < 0.7f);
    // not where x = 0 would have it
    QVERIFY((Vec3(-own.middle.x(), own.middle.y(), own.middle.z()) - other.middle).norm() > 10);
  }
  // Each side keeps to itself, so that the middle gets no second coat, whichever way the plane lies.
  void middlesGetOneCoat() {
    const auto coat = [](const MirrorPlane& plane, const Vec3& along) {
      const Document d = mirroredStroke(mirroredBall(plane),
                                        {50 * (along + 0.02f * plane.normal).normalized()}, [](Brush& b) {
                                          b.hardness = 1;
                                          b.flow = 0.5f;
                                        });
      return colorAt(*d.layers.back()->source->painted(), *nearestSample(*d.surface, 50 * along, 10)).a;
    };
    const Vec3 across = tilted().normal.cross(Vec3::UnitY()).normalized();
    QCOMPARE(coat(tilted(), across), coat({}, Vec3::UnitZ()));
  }
  void twoMirrorsMakeFour() {
    const MirrorPlane plane = tilted();
    const Mirrors mirrors(plane);
    const Vec3 on = 50 * Vec3(0.5f, 0.4f, 0.77f).normalized();
    const Document d = mirroredStroke(mirroredBall(plane), {on}, [](Brush& b) {
      b.mirror = {true, false, true};
      b.flow = 1;
    });
    for (int which = 0; which < 4; ++which) {
      const Vec3 there = mirrors.place(on, {(which & 1) != 0, false, (which & 2) != 0});
      QVERIFY(colorAt(*d.layers.back()->source->painted(), *nearestSample(*d.surface, there, 10)).a > 10000);
    }
  }
  void documentsKeepTheirPlane() {
    const Document plain = test::documentOf(test::sphere(20, 50));
    QVERIFY(!stateOf(plain).contains("mirror"));
    const MirrorPlane plane{tilted().normal, -2.5f};
    const Document d = *withMirrorPlane(plain, plane);
    const auto back = documentFromState(nlohmann::json::parse(stateOf(d).dump()), d.surface->size());
    QVERIFY2(back, back ? "" : back.error().what.c_str());
    QVERIFY(back->mirror == plane);
    // the sculpt turned, it turns along
    Placement stands = d.placement;
    stands.up = Axis::PlusZ;
    stands.front = Axis::MinusY;
    const Document turned = *withPlacement(d, stands);
    QVERIFY((turned.mirror.normal - turnOf(stands) * plane.normal).norm() < 1e-6f);
    QCOMPARE(turned.mirror.offset, plane.offset);
    QVERIFY(withPlacement(plain, stands)->mirror == MirrorPlane{});
    // all of it carried to the same mirroredBall elsewhere
    Sculpt moved = test::sphere(20, 50);
    for (Vec3& v : moved.vertices) v += Vec3(7, 0, 0);
    const auto there = carriedOver(d, std::make_shared<const Sculpt>(std::move(moved)));
    QVERIFY2(there, there ? "" : there.error().what.c_str());
    QVERIFY(there->report.samePolygons);
  }
  void nonsenseIsRefused() {
    const Document d = test::documentOf(test::sphere(20, 50));
    QVERIFY(!withMirrorPlane(d, {Vec3::Zero(), 0}));
    QVERIFY(!withMirrorPlane(d, {Vec3(2, 0, 0), 0}));
    QVERIFY(!withMirrorPlane(d, {Vec3::UnitX(), std::numeric_limits<float>::quiet_NaN()}));
    QVERIFY(!withMirrorPlane(d, {Vec3::UnitX(), 1e8f}));
    nlohmann::json state = stateOf(d);
    for (const char* said :
         {"3", "[]", "{\"normal\": [1, 0]}", "{\"normal\": [5, 0, 0]}", "{\"normal\": [0, 0, 0]}",
          "{\"offset\": 1}", "{\"normal\": [1, 0, 0], \"offset\": \"far\"}"}) {
      state["mirror"] = nlohmann::json::parse(said);
      const auto read = documentFromState(state, d.surface->size());
      QVERIFY2(!read && !read.error().what.empty(), said);
    }
  }
};

JUVENOR_TEST(TestMirrors)

}  // namespace juvenor

#include "test_mirrors.moc"
