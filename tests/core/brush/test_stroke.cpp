// Where paint goes and how strongly: spacing, opacity and flow, mirror, front only, gaps, parts, inks.
#include "core/color/lab.h"
#include "core/document/edits/edits.h"
#include "core/document/edits/paint_stroke.h"
#include "core/surface/build/search.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

SurfacePoint pointAt(const Vec3& position, const Vec3& normal = Vec3::UnitZ()) {
  SurfacePoint p;
  p.position = position;
  p.normal = p.toViewer = normal;
  return p;
}

Brush plainBrush(float radius) {
  Brush b;
  b.radius = radius;
  b.hardness = 0;
  b.flow = 1;
  b.opacity = 1;
  b.pressureSize = b.pressureFlow = false;
  return b;
}

struct Painting {
  Document document;
  Flood flood;
  StrokeSetting setting;

  explicit Painting(const Sculpt& sculpt)
      : document(withPaintedLayer(test::documentOf(sculpt), "paint", Stratum::Pigment)) {
    setting.ink = inkKind("lay");
    setting.layer = document.activeLayer;
    setting.paint.color = {0.8f, 0.3f, 0.2f};
  }
  size_t stroke(std::vector<SurfacePoint> points, float pressure = 1) {
    auto s = PaintStroke::begin(document, setting, flood);
    for (const SurfacePoint& p : points) (*s)->stroke().moveTo(p, pressure);
    const size_t dabs = (*s)->stroke().dabCount();
    document = *(*s)->finish();
    return dabs;
  }
  const ColorField& field() const { return *layerOf(document, setting.layer)->source->painted(); }
  Rgba16 colorNear(const Vec3& p) const {
    return colorAt(field(), *nearestSample(*document.surface, p, 1e6f));
  }
};

}  // namespace

class TestStroke : public QObject {
  Q_OBJECT
 private slots:
  void falloffGoesFromFullToNothing() {
    QCOMPARE(falloff(0, 0.3f), 1.f);
    QCOMPARE(falloff(0.3f, 0.3f), 1.f);
    QCOMPARE(falloff(1, 0.3f), 0.f);
    QCOMPARE(falloff(0.5f, 0), 0.5f);
    for (float h : {0.f, 0.5f, 1.f})
      for (float t = 0; t < 0.99f; t += 0.01f) QVERIFY(falloff(t + 0.01f, h) <= falloff(t, h));
  }
  void pressureCurveIsMonotoneAndDraggable() {
    const PressureCurve straight;
    for (float p = 0; p <= 1; p += 0.1f) QVERIFY(std::abs(straight(p) - p) < 0.01f);
    const PressureCurve heavy{{0.8f, 0.f}, {1.f, 0.4f}};
    QVERIFY(heavy(0.5f) < 0.2f);
    QCOMPARE(heavy(0), 0.f);
    QVERIFY(heavy(1) > 0.999f);
    for (float p = 0; p < 1; p += 0.01f) QVERIFY(heavy(p + 0.01f) >= heavy(p) - 1e-5f);
  }
  // De Casteljau's points of the same curve lie on it.
  void pressureCurveIsTheCubicOfItsHandles() {
    for (const PressureCurve& curve :
         {PressureCurve{{0.1f, 0.7f}, {0.3f, 1.f}}, PressureCurve{{0.9f, 0.1f}, {0.4f, 0.2f}},
          PressureCurve{{0.f, 1.f}, {1.f, 0.f}}})
      for (int k = 1; k < 40; ++k) {
        const float t = static_cast<float>(k) / 40;
        const auto between = [t](const Vec2& a, const Vec2& b) { return Vec2((1 - t) * a + t * b); };
        const Vec2 a = between(Vec2::Zero(), curve.first), b = between(curve.first, curve.second),
                   c = between(curve.second, Vec2::Ones());
        const Vec2 on = between(between(a, b), between(b, c));
        QVERIFY2(std::abs(curve(on.x()) - on.y()) < 2e-3f,
                 qPrintable(QString("%1 at %2, not %3").arg(curve(on.x())).arg(on.x()).arg(on.y())));
      }
  }
  void pressureDrivesWhatItIsToldTo() {
    Brush b = plainBrush(10);
    b.opacity = 0.6f;
    b.flow = 0.4f;
    DabStrength s = strengthAt(b, 0.5f);
    QCOMPARE(s.radius, 10.f);
    QCOMPARE(s.opacity, 0.6f);
    QCOMPARE(s.flow, 0.4f);
    b.pressureOpacity = b.pressureFlow = b.pressureSize = true;
    s = strengthAt(b, 0.5f);
    QVERIFY(std::abs(s.opacity - 0.3f) < 0.01f && std::abs(s.flow - 0.2f) < 0.01f && s.radius > 5 &&
            s.radius < 7);
  }
  // However many events the way comes in, the same dabs are laid.
  void dabsAreEvenWhateverTheEventRate() {
    std::vector<ColorField> results;
    std::vector<size_t> counts;
    for (const int events : {1, 7, 240}) {
      Painting p(test::plane(100, 100));
      p.setting.brush = plainBrush(8);
      p.setting.brush.flow = 0.2f;
      std::vector<SurfacePoint> way;
      for (int i = 0; i <= events; ++i)
        way.push_back(pointAt({-30.f + 60.f * static_cast<float>(i) / static_cast<float>(events), 0, 0}));
      counts.push_back(p.stroke(way));
      results.push_back(p.field());
    }
    QCOMPARE(counts[0], size_t{38});  // 60 / (0.2 × 8) and the first
    QCOMPARE(counts[1], counts[0]);
    QCOMPARE(counts[2], counts[0]);
    for (size_t s = 0; s < results[0].size(); ++s)
      QVERIFY(std::abs(results[0].at(s)[3] - results[2].at(s)[3]) <= 80);
  }
  // Opacity caps a stroke however often it crosses itself; the next stroke goes on from there.
  void opacityCapsAStroke() {
    Painting p(test::plane(40, 40));
    p.setting.brush = plainBrush(6);
    p.setting.brush.opacity = 0.35f;
    p.setting.brush.flow = 0.5f;
    p.stroke(std::vector<SurfacePoint>(1, pointAt({0, 0, 0})));
    std::vector<SurfacePoint> back;
    for (int i = 0; i < 60; ++i) back.push_back(pointAt({i % 2 ? 1.5f : -1.5f, 0, 0}));
    Painting q(test::plane(40, 40));
    q.setting.brush = p.setting.brush;
    q.stroke(back);
    const float once = from16(q.colorNear({0, 0, 0}).a);
    QVERIFY2(std::abs(once - 0.35f) < 0.002f, qPrintable(QString::number(static_cast<double>(once))));
    q.stroke(back);
    QVERIFY(std::abs(from16(q.colorNear({0, 0, 0}).a) - (1 - 0.65f * 0.65f)) < 0.003f);
  }
  void flowIsWhatOneDabAdds() {
    Painting p(test::plane(40, 40));
    p.setting.brush = plainBrush(6);
    p.setting.brush.hardness = 0.5f;
    p.setting.brush.flow = 0.1f;
    p.stroke({pointAt({0, 0, 0})});
    QVERIFY(std::abs(from16(p.colorNear({0, 0, 0}).a) - 0.1f) < 2e-5f);
  }
  // Common practice: colour is built up at 2 to 3 % a pass. 200 passes must arrive, not stall on rounding.
  void twoHundredThinPassesReachTheColour() {
    for (const EncodedColor& target :
         {EncodedColor{0.8f, 0.3f, 0.2f}, EncodedColor{0.12f, 0.1f, 0.3f}, EncodedColor{1, 1, 1}}) {
      Painting p(test::plane(10, 10));
      p.document = *withFilled(p.document, p.setting.layer, {0.72f, 0.6f, 0.5f}, 1);
      p.setting.paint.color = target;
      p.setting.brush = plainBrush(4);
      p.setting.brush.hardness = 1;
      p.setting.brush.flow = 0.02f;
      for (int pass = 0; pass < 200; ++pass) p.stroke({pointAt({-3, 0, 0}), pointAt({3, 0, 0})});
      const double away = deltaE2000(toLab(straight(p.colorNear({0, 0, 0}))), toLab(target));
      QVERIFY2(away < 0.5, qPrintable(QString::number(away)));
    }
  }
  // The same with single dabs, where 0.98²⁰⁰ = 1.8 % of the way must be left, and that exactly.
  void thinDabsNeverStallOnRounding() {
    Painting p(test::plane(10, 10));
    const EncodedColor from{0.72f, 0.6f, 0.5f}, to{0.66f, 0.5f, 0.45f};
    p.document = *withFilled(p.document, p.setting.layer, from, 1);
    p.setting.paint.color = to;
    p.setting.brush = plainBrush(4);
    p.setting.brush.hardness = 1;
    p.setting.brush.flow = 0.02f;
    for (int pass = 0; pass < 200; ++pass) p.stroke({pointAt({0, 0, 0})});
    const float left = std::pow(0.98f, 200.f);
    const EncodedColor c = straight(p.colorNear({0, 0, 0}));
    QVERIFY(std::abs(c.r - (to.r + left * (from.r - to.r))) < 3e-4f);
    QVERIFY(std::abs(c.g - (to.g + left * (from.g - to.g))) < 3e-4f);
    QVERIFY(std::abs(c.b - (to.b + left * (from.b - to.b))) < 3e-4f);
    QVERIFY(deltaE2000(toLab(c), toLab(to)) < 0.5);
  }
  void mirrorIsExactOnAMirroredMesh() {
    for (int axis = 0; axis < 3; ++axis) {
      Painting p(test::sphere(64, 10));
      p.setting.brush = plainBrush(2);
      p.setting.brush.flow = 0.3f;
      p.setting.brush.mirror[static_cast<size_t>(axis)] = true;
      std::vector<SurfacePoint> way;
      for (float t = 0; t <= 1; t += 0.1f) {
        Vec3 n(0.4f + 0.3f * t, 0.5f - 0.2f * t, 0.45f);
        n.normalize();
        way.push_back(pointAt(10 * n, n));
      }
      p.stroke(way);
      const Surface& s = *p.document.surface;
      size_t painted = 0;
      for (size_t i = 0; i < s.size(); ++i) {
        Vec3 q = s.positions[i];
        q[axis] = -q[axis];
        const Rgba16 a = colorAt(p.field(), i), b = p.colorNear(q);
        painted += a.a > 0;
        QCOMPARE(a, b);
      }
      QVERIFY(painted > 50);
    }
  }
  // A stroke over the mirror's plane lays what the nearer of both dabs lays, and no seam of both. What it
  // should be comes from strokes without a mirror.
  void mirrorLaysNothingTwiceAcrossThePlane() {
    for (const std::array<bool, 3>& axes : {std::array{true, false, false}, {true, true, false}}) {
      const auto painting = [](float x, float y, std::array<bool, 3> mirror) {
        Painting p(test::plane(80, 20));
        p.setting.brush = plainBrush(2);
        p.setting.brush.flow = 0.3f;
        p.setting.brush.mirror = mirror;
        p.stroke({pointAt({x, y, 0})});
        return p;
      };
      const Painting both = painting(0.7f, 0.4f, axes);
      std::vector<Painting> sides;
      for (const float x : {0.7f, -0.7f})
        for (const float y : {0.4f, -0.4f})
          if ((x > 0 || axes[0]) && (y > 0 || axes[1])) sides.push_back(painting(x, y, {}));
      const Surface& s = *both.document.surface;
      size_t painted = 0, shared = 0;
      for (size_t i = 0; i < s.size(); ++i) {
        int most = 0, reached = 0;
        for (const Painting& side : sides) {
          const int a = colorAt(side.field(), i).a;
          most = std::max(most, a);
          reached += a > 0;
        }
        QVERIFY(std::abs(int{colorAt(both.field(), i).a} - most) <= 2);
        painted += most > 0;
        shared += reached > 1;
      }
      QVERIFY(painted > 200 && shared > 100);
    }
  }
  void hiddenPartsTakeNoPaint() {
    Painting p(test::together(test::plane(40, 20), test::plane(40, 20, "Under")));
    p.setting.brush = plainBrush(3);
    p.setting.brush.allParts = true;
    p.setting.brush.frontOnly = false;
    p.document.hiddenParts = {1};
    p.stroke({pointAt({0, 0, 0})});
    const Surface& s = *p.document.surface;
    size_t shown = 0, hidden = 0;
    for (size_t i = 0; i < s.size(); ++i)
      if (colorAt(p.field(), i).a > 0) (s.parts[i] == 1 ? hidden : shown) += 1;
    QVERIFY(shown > 50);
    QCOMPARE(hidden, size_t{0});
    p.document.hiddenParts.clear();
    p.stroke({pointAt({0, 0, 0})});
    for (size_t i = 0; i < s.size(); ++i) hidden += s.parts[i] == 1 && colorAt(p.field(), i).a > 0;
    QVERIFY(hidden > 50);
  }
  void mirrorWithoutAnotherSidePaintsOneSide() {
    Painting p(test::sphere(32, 3, {20, 0, 0}));
    p.setting.brush = plainBrush(1);
    p.setting.brush.mirror[0] = true;
    p.stroke({pointAt({20, 0, 3})});
    QVERIFY(p.colorNear({20, 0, 3}).a > 60000);
  }
  void frontOnlyNeverReachesTheFarSide() {
    // a thin slab: front at z = 0.1, back at z = −0.1, one rim around
    const auto slab = [] {
      Sculpt s = test::sphere(64, 10);
      for (Vec3& v : s.vertices) v.z() *= 0.01f;
      return s;
    };
    for (const bool front : {true, false}) {
      Painting p(slab());
      p.setting.brush = plainBrush(4);
      p.setting.brush.frontOnly = front;
      p.stroke({pointAt({8, 0, 0.06f})});
      size_t behind = 0, before = 0;
      for (size_t i = 0; i < p.document.surface->size(); ++i) {
        if (colorAt(p.field(), i).a == 0) continue;
        (p.document.surface->normals[i].z() < 0 ? behind : before) += 1;
      }
      QVERIFY(before > 50);
      QVERIFY(front ? behind == 0 : behind > 50);
    }
  }
  // Upper and lower lip: near in space, far along the skin.
  void paintNeverJumpsAGap() {
    Sculpt upper = test::plane(60, 20), lower = test::plane(60, 20);
    for (Vec3& v : lower.vertices) v.z() -= 0.1f;
    lower.parts = {"Plane"};
    Sculpt both = test::together(upper, lower);
    both.parts = {"Lips"};
    std::ranges::fill(both.polygonPart, 0u);
    for (const bool allParts : {false, true}) {
      Painting p(both);
      p.setting.brush = plainBrush(5);
      p.setting.brush.frontOnly = false;
      p.setting.brush.allParts = allParts;
      p.stroke({pointAt({-2, 0, 0}), pointAt({3, 0, 0})});
      QVERIFY(p.colorNear({0, 0, 0}).a > 60000);
      for (size_t i = 0; i < p.document.surface->size(); ++i)
        if (p.document.surface->positions[i].z() < -0.05f) QCOMPARE(colorAt(p.field(), i).a, uint16_t{0});
    }
  }
  void onlyTheActivePartUnlessAllPartsAreWanted() {
    Sculpt other = test::plane(40, 20, "Other");
    for (Vec3& v : other.vertices) v.x() += 20;
    const Sculpt two = test::together(test::plane(40, 20, "One"), other);
    for (const bool all : {false, true}) {
      Painting p(two);
      p.setting.brush = plainBrush(4);
      p.setting.brush.allParts = all;
      p.setting.activePart = 0;
      p.stroke({pointAt({9, 0, 0})});
      QVERIFY(p.colorNear({8, 0, 0}).a > 0);
      QCOMPARE(p.colorNear({11.2f, 0, 0}).a > 0, all);
    }
    // a stroke that begins on another part lays nothing on it
    Painting p(two);
    p.setting.brush = plainBrush(4);
    p.setting.activePart = 1;
    p.stroke({pointAt({0, 0, 0})});
    QCOMPARE(p.colorNear({0, 0, 0}).a, uint16_t{0});
  }
  void unweldedTrianglesArePaintedAsOneSkin() {
    Painting whole(test::sphere(48, 10)), loose(test::soup(test::sphere(48, 10)));
    for (Painting* p : {&whole, &loose}) {
      p->setting.brush = plainBrush(5);
      p->stroke({pointAt({0, 0, 10})});
    }
    const Surface& s = *loose.document.surface;
    for (const uint32_t sample : s.sampleOfVertex)
      QCOMPARE(colorAt(loose.field(), sample), whole.colorNear(s.positions[sample]));
  }
  void eraseTakesColourAway() {
    Painting p(test::plane(40, 40));
    p.document = *withFilled(p.document, p.setting.layer, {0.5f, 0.5f, 0.5f}, 1);
    p.setting.ink = inkKind("erase");
    p.setting.brush = plainBrush(6);
    p.setting.brush.hardness = 0.9f;
    p.stroke({pointAt({0, 0, 0})});
    QCOMPARE(p.colorNear({0, 0, 0}), (Rgba16{}));
    QCOMPARE(p.colorNear({12, 0, 0}).a, uint16_t{65535});
  }
  void blendSoftensAnEdgeByFlowAndKeepsTheMean() {
    const auto contrastAfter = [](float flow) {
      Painting p(test::plane(100, 100));
      ColorField field(p.document.surface->size());
      for (size_t c = 0; c < field.chunkCount(); ++c) {
        auto chunk = field.writable(c);
        for (size_t i = 0; i < kChunkSize && c * kChunkSize + i < field.size(); ++i)
          setSample(*chunk, i,
                    p.document.surface->positions[c * kChunkSize + i].x() < -0.5f
                        ? Rgba16{60000, 0, 0, 65535}
                        : Rgba16{10000, 0, 0, 65535});
        field.setChunk(c, chunk);
      }
      p.document = *withPainted(p.document, p.setting.layer, field);
      p.setting.ink = inkKind("blend");
      p.setting.brush = plainBrush(12);
      p.setting.brush.flow = flow;
      for (int pass = 0; pass < 3; ++pass) p.stroke({pointAt({-0.5f, -6, 0}), pointAt({-0.5f, 6, 0})});
      double mean = 0;
      for (size_t s = 0; s < field.size(); ++s) mean += p.field().at(s)[0];
      mean /= static_cast<double>(field.size());
      return std::pair(p.colorNear({-3, 0, 0}).r - p.colorNear({2, 0, 0}).r, mean);
    };
    const auto none = contrastAfter(0), little = contrastAfter(0.1f), much = contrastAfter(0.8f);
    QCOMPARE(none.first, 50000);
    QVERIFY(little.first < 48000 && little.first > much.first + 5000);
    QVERIFY2(much.first < 25000 && much.first > 0, qPrintable(QString::number(much.first)));
    QVERIFY(std::abs(much.second / none.second - 1) < 0.01);
  }
  void blendBringsNoColourFromBarePlaces() {
    Painting p(test::plane(60, 60));
    p.setting.brush = plainBrush(10);
    p.setting.brush.hardness = 1;
    p.stroke({pointAt({0, 0, 0})});
    p.setting.ink = inkKind("blend");
    p.setting.brush.hardness = 0;
    p.stroke({pointAt({10, 0, 0}), pointAt({8, 4, 0})});
    for (size_t s = 0; s < p.field().size(); ++s) {
      const Rgba16 c = colorAt(p.field(), s);
      if (c.a < 3000) continue;
      const EncodedColor straightColor = straight(c);
      QVERIFY(std::abs(straightColor.r - 0.8f) < 0.01f && std::abs(straightColor.g - 0.3f) < 0.01f);
    }
  }
  void maskIsHiddenAndShownByTheSamePen() {
    Painting p(test::plane(40, 40));
    p.document = *withMask(p.document, p.setting.layer);
    p.setting.onMask = true;
    p.setting.brush = plainBrush(6);
    p.setting.brush.hardness = 0.5f;
    p.stroke({pointAt({0, 0, 0})});
    const auto maskAt = [&](size_t s) { return layerOf(p.document, p.setting.layer)->mask->at(s)[0]; };
    const Surface& s = *p.document.surface;
    size_t middle = 0, far = 0;
    for (size_t i = 0; i < s.size(); ++i) {
      if (s.positions[i].norm() < s.positions[middle].norm()) middle = i;
      if (s.positions[i].norm() > s.positions[far].norm()) far = i;
    }
    QCOMPARE(maskAt(middle), uint16_t{0});
    QCOMPARE(maskAt(far), uint16_t{65535});
    p.setting.ink = inkKind("erase");
    p.stroke({pointAt({0, 0, 0})});
    QCOMPARE(maskAt(middle), uint16_t{65535});
  }
  void refusalsSayWhyInWordsForTheArtist() {
    Painting p(test::plane(4, 4));
    const auto why = [&](const Document& d, bool onMask) {
      StrokeSetting s = p.setting;
      s.layer = d.activeLayer;
      s.onMask = onMask;
      const auto begun = PaintStroke::begin(d, s, p.flood);
      return begun ? std::string() : begun.error().what;
    };
    LayerChange change;
    change.visible = false;
    QVERIFY(why(*withLayerChanged(p.document, p.setting.layer, change), false).find("hidden") !=
            std::string::npos);
    change = {};
    change.locked = true;
    QVERIFY(why(*withLayerChanged(p.document, p.setting.layer, change), false).find("locked") !=
            std::string::npos);
    QVERIFY(why(withFillLayer(p.document, "Tone", Stratum::Flesh, {1, 0, 0}), false).find("fill layer") !=
            std::string::npos);
    QVERIFY(why(p.document, true).find("mask") != std::string::npos);
    Document empty = p.document;
    empty.layers.clear();
    QVERIFY(why(empty, false).find("no layer") != std::string::npos);
    QCOMPARE(why(p.document, false), std::string());
  }
  void tooFineABrushSaysSo() {
    Painting p(test::plane(10, 100));
    p.setting.brush = plainBrush(0.5f);
    auto s = PaintStroke::begin(p.document, p.setting, p.flood);
    (*s)->stroke().moveTo(pointAt({5, 5, 0}), 1);
    QCOMPARE((*s)->stroke().reached(), size_t{0});
  }
};

JUVENOR_TEST(TestStroke)
}  // namespace juvenor
#include "test_stroke.moc"
