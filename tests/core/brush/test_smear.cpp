// The smear ink: colour travels with the stroke, over the form, and none is made up.
#include "core/document/edits/edits.h"
#include "core/document/edits/paint_stroke.h"
#include "core/surface/build/search.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// Left of x = 0 red, right of it blue.
Document twoHalves(const Sculpt& sculpt) {
  Document d = withPaintedLayer(test::documentOf(sculpt), "paint", Stratum::Pigment);
  d = *withFilled(d, d.activeLayer, {0, 0, 1}, 1);
  ColorField field = *layerOf(d, d.activeLayer)->source->painted();
  for (size_t c = 0; c < field.chunkCount(); ++c) {
    auto chunk = field.writable(c);
    for (size_t i = 0; i < kChunkSize && c * kChunkSize + i < field.size(); ++i)
      if (d.surface->positions[c * kChunkSize + i].x() < 0) setSample(*chunk, i, {65535, 0, 0, 65535});
    field.setChunk(c, std::move(chunk));
  }
  return *withPainted(d, d.activeLayer, std::move(field));
}

Document smeared(const Document& d, std::vector<Vec3> way, float flow, bool mirror = false) {
  StrokeSetting setting;
  setting.ink = inkKind("smear");
  setting.layer = d.activeLayer;
  setting.brush.radius = 2;
  setting.brush.hardness = 0.4f;
  setting.brush.flow = flow;
  setting.brush.pressureFlow = setting.brush.pressureSize = false;
  setting.brush.mirror[0] = mirror;
  Flood flood;
  auto stroke = PaintStroke::begin(d, setting, flood);
  for (const Vec3& v : way) {
    SurfacePoint p;
    const auto near = nearestSample(*d.surface, v, 1e6f);
    p.position = v;
    p.normal = p.toViewer = d.surface->normals[*near];
    (*stroke)->stroke().moveTo(p, 1);
  }
  return *(*stroke)->finish();
}

Rgba16 colorNear(const Document& d, const Vec3& p) {
  return colorAt(*layerOf(d, d.activeLayer)->source->painted(), *nearestSample(*d.surface, p, 1e6f));
}

}  // namespace

class TestSmear : public QObject {
  Q_OBJECT
 private slots:
  void colourTravelsWithTheStroke() {
    const Document before = twoHalves(test::plane(120, 24));
    QCOMPARE(colorNear(before, {3, 0, 0}).r, uint16_t{0});
    const Document after = smeared(before, {{-4, 0, 0}, {8, 0, 0}}, 0.8f);
    // red went right along the stroke, and less of it the further it went
    QVERIFY2(colorNear(after, {2, 0, 0}).r > 20000,
             qPrintable(QString::number(colorNear(after, {2, 0, 0}).r)));
    QVERIFY(colorNear(after, {2, 0, 0}).r > colorNear(after, {5, 0, 0}).r);
    // to the side of the stroke nothing changed, and no alpha was lost
    QCOMPARE(colorNear(after, {2, 6, 0}), colorNear(before, {2, 6, 0}));
    QVERIFY(colorNear(after, {2, 0, 0}).a > 65500);
    const int sum = colorNear(after, {2, 0, 0}).r + colorNear(after, {2, 0, 0}).b;
    QVERIFY(std::abs(sum - 65535) < 200);
    // the other way blue goes left
    QVERIFY(colorNear(smeared(before, {{4, 0, 0}, {-8, 0, 0}}, 0.8f), {-2, 0, 0}).b > 20000);
    // more flow carries further
    QVERIFY(colorNear(smeared(before, {{-4, 0, 0}, {8, 0, 0}}, 0.3f), {4, 0, 0}).r <
            colorNear(after, {4, 0, 0}).r);
  }
  void evenColourStaysEven() {
    Document d = withPaintedLayer(test::documentOf(test::plane(60, 24)), "paint", Stratum::Pigment);
    d = *withFilled(d, d.activeLayer, {0.3f, 0.6f, 0.2f}, 1);
    const Document after = smeared(d, {{-4, -4, 0}, {6, 3, 0}, {0, 8, 0}}, 0.7f);
    for (size_t s = 0; s < d.surface->size(); ++s) {
      const Rgba16 a = colorAt(*layerOf(d, d.activeLayer)->source->painted(), s),
                   b = colorAt(*layerOf(after, d.activeLayer)->source->painted(), s);
      QVERIFY(std::abs(a.r - b.r) <= 40 && std::abs(a.g - b.g) <= 40);
    }
  }
  // Over the top of a sphere the patch turns with the form; mirrored, both sides carry their own colour.
  void followsTheFormAndMirrors() {
    Document d = twoHalves(test::sphere(96, 10));
    std::vector<Vec3> way;
    for (float a = -0.5f; a <= 0.9f; a += 0.05f) way.push_back(10 * Vec3(std::sin(a), 0, std::cos(a)));
    const Document after = smeared(d, way, 0.8f);
    QVERIFY(colorNear(after, 10 * Vec3(std::sin(0.25f), 0, std::cos(0.25f))).r > 15000);
    const Document both = smeared(d, {{4, 0, 9.165f}, {4, 4, 8.246f}}, 0.8f, true);
    QCOMPARE(colorNear(both, {-4, 2, 8.944f}).b, uint16_t{0});
    QCOMPARE(colorNear(both, {4, 2, 8.944f}).r, uint16_t{0});
  }
};

JUVENOR_TEST(TestSmear)
}  // namespace juvenor
#include "test_smear.moc"
