// Painting through a picture held before the sculpt, and marks that are placed.
#include "core/brush/made_stamps.h"
#include "core/document/edits/edits.h"
#include "core/document/edits/place_stamp.h"
#include "core/view/camera.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// Red on the left half, nothing on the right.
StampPointer halfShape() {
  StampLevel full;
  full.width = full.height = 64;
  full.shape.resize(64 * 64);
  for (auto& plane : full.color) plane.assign(64 * 64, 0);
  for (size_t y = 0; y < 64; ++y)
    for (size_t x = 0; x < 32; ++x) {
      full.shape[y * 64 + x] = 65535;
      full.color[0][y * 64 + x] = 65535;
    }
  return std::make_shared<const Stamp>("half", std::move(full));
}

constexpr ViewSize kView{400, 400};

// Over the whole view, its longer side 400 pixels.
std::shared_ptr<Stencil> stencilOver(const Camera& camera, const StampPointer& picture) {
  auto out = std::make_shared<Stencil>();
  out->picture = picture;
  Eigen::Matrix3f place;
  place << 1 / 200.f, 0, -1, 0, -1 / 200.f, 1, 0, 0, 1;
  out->toPicture = place * projection(camera, kView);
  return out;
}

StrokeSetting settingOn(const Document& d, float radius) {
  StrokeSetting out;
  out.ink = inkKind("lay");
  out.layer = d.activeLayer;
  out.paint = EncodedColor{0, 0, 1};
  out.brush.radius = radius;
  out.brush.hardness = 1;
  out.brush.flow = 1;
  return out;
}

SurfacePoint on(const Vec3& place) {
  SurfacePoint out;
  out.position = place;
  return out;
}

}  // namespace

class TestStencil : public QObject {
  Q_OBJECT
 private slots:
  void theMatrixSaysWhatTheCameraSees() {
    for (const bool parallel : {false, true}) {
      Camera c;
      c.parallel = parallel;
      c.distance = 7;
      c.target = {1, 2, 3};
      c.turn = Eigen::Quaternionf(Eigen::AngleAxisf(0.7f, Vec3(1, 1, 0).normalized()));
      const auto m = projection(c, {640, 480});
      for (const Vec3& p : {Vec3(0, 0, 0), Vec3(1, 2.5f, 3), Vec3(-1, 4, 2)}) {
        const Vec3 seen = m.leftCols<3>() * p + m.col(3), wanted = project(c, {640, 480}, p);
        QVERIFY(seen.z() > 0);
        QVERIFY((Vec2(seen.x(), seen.y()) / seen.z() - Vec2(wanted.x(), wanted.y())).norm() < 0.01f);
      }
    }
  }
  void paintGoesThroughTheShapeAlone() {
    Document d = withPaintedLayer(test::documentOf(test::plane(120, 10)), "p", Stratum::Pigment);
    Camera c;
    c.distance = 20;
    StrokeSetting setting = settingOn(d, 3);
    setting.stencil = stencilOver(c, halfShape());
    const SurfacePoint line[] = {on({-1, 0, 0}), on({1, 0, 0})};
    Flood flood;
    const auto check = [&](const Document& painted, bool leftToo, bool rightToo, bool red) {
      const ColorField& field = *layerOf(painted, d.activeLayer)->source->painted();
      for (size_t s = 0; s < field.size(); ++s) {
        const Vec3& p = d.surface->positions[s];
        if (std::abs(p.x()) < 0.15f || p.norm() > 2) continue;
        const Rgba16 v = colorAt(field, s);
        const bool wanted = p.x() < 0 ? leftToo : rightToo;
        if ((v.a > 60'000) != wanted || (wanted && (v.r > 60'000) != red)) return false;
      }
      return true;
    };
    QVERIFY(check(*withStrokeAlong(d, setting, line, 1, flood), true, false, false));
    auto other = std::make_shared<Stencil>(*setting.stencil);
    other->inverted = true;
    setting.stencil = other;
    QVERIFY(check(*withStrokeAlong(d, setting, line, 1, flood), false, true, false));
    other = std::make_shared<Stencil>(*setting.stencil);
    other->inverted = false;
    other->ownColors = true;
    setting.stencil = other;
    QVERIFY(check(*withStrokeAlong(d, setting, line, 1, flood), true, false, true));
    // mirrored, the other side goes through what this side goes through
    setting.brush.mirror[0] = true;
    QVERIFY(check(*withStrokeAlong(d, setting, line, 1, flood), true, true, true));
    // erasing through it leaves the rest
    setting.brush.mirror[0] = false;
    const Document full = *withFilled(d, d.activeLayer, EncodedColor{0, 0, 1}, 1, kNone);
    setting.ink = inkKind("erase");
    QVERIFY(check(*withStrokeAlong(full, setting, line, 1, flood), false, true, false));
  }
  void aPlacedStampLiesWhereAndHowItIsTold() {
    Document d = withPaintedLayer(test::documentOf(test::plane(200, 10)), "p", Stratum::Pigment);
    StrokeSetting setting = settingOn(d, 1);
    setting.brush.tip = TipKind::Stamp;
    setting.brush.stamp.stamp = halfShape();
    Flood flood;
    // its right side goes up: the shape lies below
    const Document up = *withStampPlaced(d, setting, on({1, 1, 0}), Vec3::UnitY(), 2, flood);
    const ColorField& field = *layerOf(up, d.activeLayer)->source->painted();
    for (size_t s = 0; s < field.size(); ++s) {
      const Vec3 p = d.surface->positions[s] - Vec3(1, 1, 0);
      if (std::abs(p.x()) > 1.9f || std::abs(p.y()) < 0.1f) continue;
      QCOMPARE(colorAt(field, s).a > 30'000, p.y() < 0 && p.y() > -2);
    }
    QVERIFY(!withStampPlaced(d, setting, on({1, 1, 0}), Vec3::UnitY(), 0, flood));
    LayerChange hide;
    hide.visible = false;
    QVERIFY(!withStampPlaced(*withLayerChanged(d, d.activeLayer, hide), setting, on({1, 1, 0}), Vec3::UnitY(),
                             1, flood));
    QVERIFY(!withStrokeAlong(d, setting, {}, 1, flood));
  }
};

JUVENOR_TEST(TestStencil)
}  // namespace juvenor
#include "test_stencil.moc"
