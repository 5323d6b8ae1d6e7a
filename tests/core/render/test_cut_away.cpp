// What is cut away before the eye is neither seen nor picked nor painted on.
#include "core/brush/footprint.h"
#include "core/document/edits/edits.h"
#include "core/document/edits/paint_stroke.h"
#include "core/layers/sources/painted.h"
#include "core/pen/eye.h"
#include "core/render/picture.h"
#include "core/render/still.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

const ViewSize kCaveView{80, 60};

// A ball with a cave in it, and a kernel in the cave: radii 100, 60 and 25.
Sculpt caveInABall() {
  return test::together(test::together(test::sphere(80, 100), test::insideOut(test::sphere(60, 60))),
                        test::sphere(40, 25));
}

Camera fromAfar(bool parallel) {
  Camera out;
  out.distance = 400;
  out.parallel = parallel;
  return out;
}

struct Cave {
  Document document = test::documentOf(caveInABall());
  RaysPointer rays = *document.maps->rays();

  // How deep a ray to a place of the plane through the middle goes before it meets something: its z there.
  std::optional<float> depthAt(const Camera& camera, float x) const {
    const Vec2 pixel = project(camera, kCaveView, {x, 0, 0}).head<2>();
    const auto place = Eye{rays.get(), nullptr, camera, kCaveView}.placeAt(pixel);
    return place ? std::optional(place->position.z()) : std::nullopt;
  }
};

bool isNear(const std::optional<float>& found, float wanted) {
  return found && std::abs(*found - wanted) < 1.5f;
}

}  // namespace

class TestCutAway : public QObject {
  Q_OBJECT
 private slots:
  void raysBeginWhereItEnds_data() {
    QTest::addColumn<bool>("parallel");
    QTest::newRow("perspective") << false;
    QTest::newRow("parallel") << true;
  }
  void raysBeginWhereItEnds() {
    QFETCH(const bool, parallel);
    const Cave scene;
    Camera camera = fromAfar(parallel);
    QVERIFY(isNear(scene.depthAt(camera, 0), 100));
    // in the flesh before the cave: the cave's isNear wall is seen from behind, and looked through
    camera.cutAway = 80;
    QVERIFY(isNear(scene.depthAt(camera, 0), 25));
    // beside the kernel the far wall
    const auto wall = scene.depthAt(camera, 40);
    QVERIFY(wall && *wall < -35 && *wall > -60);
    // through the kernel's middle
    camera.cutAway = 0;
    QVERIFY(isNear(scene.depthAt(camera, 0), -60));
    // behind all that faces the eye nothing is left
    camera.cutAway = -70;
    QVERIFY(!scene.depthAt(camera, 0));
    camera = uncut(camera);
    QVERIFY(isNear(scene.depthAt(camera, 0), 100));
  }
  void picturesShowWhatPicksMeet() {
    const Cave scene;
    Camera camera = turned(fromAfar(false), {130, 60});
    camera.cutAway = 50;
    VisibilityImage seen;
    QVERIFY(castVisibility(*scene.rays, camera, kCaveView, {0.5f, 0.5f}, {}, seen));
    const Eye eye{scene.rays.get(), nullptr, camera, kCaveView};
    size_t met = 0;
    for (int y = 0; y < kCaveView.height; ++y)
      for (int x = 0; x < kCaveView.width; ++x) {
        const auto hit = eye.hitAt({static_cast<float>(x) + 0.5f, static_cast<float>(y) + 0.5f});
        QCOMPARE(seen.triangle[static_cast<size_t>(y * kCaveView.width + x)], hit ? hit->triangle : kNone);
        met += hit.has_value();
        if (!hit) continue;
        // nothing before the plane, and nothing from behind
        const SurfacePoint at = scene.rays->pointOf(*hit, camera.back());
        QVERIFY(at.position.dot(camera.back()) < 50.01f);
        QVERIFY(at.normal.dot(camera.back()) > -0.3f);
      }
    QVERIFY(met > 200);
  }
  // The plane stays where it is in the sculpt when the camera is aimed at something else.
  void framingLeavesThePlane() {
    Camera camera = turned(fromAfar(false), {40, 20});
    camera.cutAway = 30;
    const CutPlane was = *cutAwayBy(camera);
    Box box;
    box.add({10, 60, -20});
    box.add({30, 80, 50});
    const Camera there = framed(camera, kCaveView, box);
    QVERIFY((there.target - camera.target).norm() > 10);
    const CutPlane is = *cutAwayBy(there);
    QVERIFY(is.normal.isApprox(was.normal) && std::abs(is.offset - was.offset) < 1e-3f);
    const DepthRange range = depthRange(there, box);
    QVERIFY(range.front > 0 && range.back < 0 && std::abs(range.front + range.back) < 1e-3f);
  }
  // A dab on the rim of what is left does not reach over it, its mirror does.
  void paintKeepsBehindIt() {
    const Document d = withPaintedLayer(test::documentOf(test::plane(200, 200)), "Paint", Stratum::Pigment);
    StrokeSetting setting;
    setting.brush.radius = 20;
    setting.brush.mirror[0] = true;
    setting.ink = inkKind("lay");
    setting.layer = d.activeLayer;
    // beyond x = 50, as if seen from the side
    setting.cutAway = CutPlane{Vec3::UnitX(), 50};
    Flood flood;
    flood.prepare(*d.surface);
    auto painting = *PaintStroke::begin(d, setting, flood);
    SurfacePoint at;
    at.position = {45, 0, 0};
    painting->stroke().moveTo(at, 1);
    painting->stroke().end();
    const Document painted = *painting->finish();
    const ColorField& paint = *painted.layers.back()->source->painted();
    size_t own = 0, mirrored = 0;
    for (size_t s = 0; s < paint.size(); ++s) {
      if (colorAt(paint, s).a == 0) continue;
      const float x = painted.surface->positions[s].x();
      QVERIFY2(x <= 50, qPrintable(QString::number(static_cast<double>(x))));
      own += x > 0;
      mirrored += x < -51;
    }
    QVERIFY(own > 400 && mirrored > 300);
  }
  // Skin that is seen from behind, where flesh was opened or a part hidden, is no wet skin: it mirrors
  // nothing.
  void fromBehindNothingIsMirrored() {
    Document d = test::documentOf(test::plane(40, 100));
    d = withPaintedLayer(d, "Paint", Stratum::Pigment);
    const auto seen = [&](float gloss, const Vec3& from) {
      ChannelValues values(0.4f, 0.3f, 0.2f);
      values[Channel::Gloss] = gloss;
      const Document of = *withFilled(d, d.activeLayer, values, 1, kNone);
      StillSetting setting;
      setting.size = {40, 40};
      setting.camera.distance = 150;
      setting.camera.turn = turnBetween<float>(Vec3::UnitZ(), from);
      setting.view = View::Skin;
      return *stillOf(of, setting);
    };
    const Vec3 front = Vec3(0.3f, 0.4f, 1).normalized(), behind = Vec3(0.3f, 0.4f, -1).normalized();
    QVERIFY(seen(0.1f, front) != seen(0.95f, front));
    QCOMPARE(seen(0.1f, behind), seen(0.95f, behind));
  }
};

JUVENOR_TEST(TestCutAway)

}  // namespace juvenor

#include "test_cut_away.moc"
