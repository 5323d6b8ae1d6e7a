// Camera, rays, light and pictures against closed forms.

#include <cmath>

#include "core/document/edits/edits.h"
#include "core/document/edits/paint_stroke.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/fill.h"
#include "core/pen/pen_path.h"
#include "core/render/picture.h"
#include "core/render/still.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

const ViewSize kSize{320, 240};

bool near(const Vec3& a, const Vec3& b, float tolerance = 1e-4f) {
  return (a - b).norm() <= tolerance;
}

struct Scene {
  std::shared_ptr<const Surface> surface;
  Rays rays;
  ChannelFields skin;
  std::vector<LitSample> lit;

  explicit Scene(const Sculpt& sculpt, const EncodedColor& bare = {0.8f, 0.5f, 0.4f})
      : surface(test::surfaceOf(sculpt)),
        rays(surface, Rays::Quality::Full),
        skin(*skinOf(LayerStack{}, *std::make_unique<SurfaceMaps>(surface), bare)) {
    Lighting lighting(surface);
    lighting.settle(rays);
    lit.assign(lighting.samples().begin(), lighting.samples().end());
  }
  ShadeInput input(View view, const Camera& camera) const {
    ShadeInput in;
    in.surface = surface.get();
    in.skin = &skin;
    in.lit = lit;
    in.camera = camera;
    in.view = view;
    return in;
  }
};

Camera framing(const Scene& s) {
  return framed({}, kSize, s.surface->bounds);
}

}  // namespace

class TestRender : public QObject {
  Q_OBJECT
 private slots:
  void projectingUndoesTheRay() {
    for (const bool parallel : {false, true}) {
      Camera c;
      c.target = {1, 2, 3};
      c.distance = 7;
      c.parallel = parallel;
      c = turned(c, {130, -45});
      for (const Vec2& pixel : {Vec2(0, 0), Vec2(160, 120), Vec2(300.5f, 17.25f)}) {
        const Ray ray = rayThrough(c, kSize, pixel);
        QVERIFY(std::abs(ray.direction.norm() - 1) < 1e-5f);
        const Vec3 q = project(c, kSize, ray.origin + 6.5f * ray.direction);
        QVERIFY(std::abs(q.x() - pixel.x()) < 0.01f && std::abs(q.y() - pixel.y()) < 0.01f);
      }
    }
  }
  void pixelsPerUnitMeasuresWhatIsSeen() {
    Camera c;
    c.distance = 10;
    const float scale = pixelsPerUnit(c, kSize, {0, 0, 0});
    const Vec3 a = project(c, kSize, {0, 0, 0}), b = project(c, kSize, {0.5f, 0, 0});
    QVERIFY(std::abs(b.x() - a.x() - 0.5f * scale) < 0.01f);
  }
  void zoomingKeepsThePointUnderThePen() {
    Camera c;
    c.distance = 10;
    c = turned(c, {40, 20});
    const Vec2 pixel(250, 60);
    const Ray before = rayThrough(c, kSize, pixel);
    // where that ray meets the plane through the target
    const float t = (c.target - before.origin).dot(c.back()) / before.direction.dot(c.back());
    const Vec3 point = before.origin + t * before.direction;
    const Vec3 q = project(zoomed(c, kSize, 0.6f, pixel), kSize, point);
    QVERIFY(std::abs(q.x() - pixel.x()) < 0.05f && std::abs(q.y() - pixel.y()) < 0.05f);
  }
  void panningFollowsTheHand() {
    Camera c;
    c.distance = 10;
    const Vec3 before = project(c, kSize, {0, 0, 0}),
               after = project(panned(c, kSize, {30, -12}), kSize, {0, 0, 0});
    QVERIFY(std::abs(after.x() - before.x() - 30) < 0.05f && std::abs(after.y() - before.y() + 12) < 0.05f);
  }
  void framingShowsTheWholeBox() {
    Box box;
    box.add({-3, 1, 0});
    box.add({5, 9, 2});
    for (const bool parallel : {false, true})
      for (const Side side : {Side::Front, Side::Right, Side::Left, Side::Back, Side::Top}) {
        Camera c;
        c.parallel = parallel;
        c = framed(lookingFrom(c, side), kSize, box);
        for (int i = 0; i < 8; ++i) {
          const Vec3 q = project(c, kSize, {i & 1 ? -3.f : 5.f, i & 2 ? 1.f : 9.f, i & 4 ? 0.f : 2.f});
          QVERIFY(q.x() >= 0 && q.x() <= 320 && q.y() >= 0 && q.y() <= 240);
        }
      }
  }
  void sidesLookWhereTheySay() {
    QVERIFY(near(lookingFrom({}, Side::Front).back(), {0, 0, 1}));
    QVERIFY(near(lookingFrom({}, Side::Right).back(), {1, 0, 0}));
    QVERIFY(near(lookingFrom({}, Side::Top).back(), {0, 1, 0}));
  }
  void firstHitOnASphereIsWhereGeometrySays() {
    const Scene s(test::sphere(128, 5));
    const auto hit = s.rays.first({{0.7f, -0.4f, 20}, {0, 0, -1}});
    QVERIFY(hit.has_value());
    const SurfacePoint p = s.rays.pointOf(*hit, Vec3::UnitZ());
    const float z = std::sqrt(25 - 0.49f - 0.16f);
    QVERIFY(near(p.position, {0.7f, -0.4f, z}, 0.005f));
    QVERIFY(near(p.normal, Vec3(0.7f, -0.4f, z) / 5, 0.02f));
    QVERIFY(std::abs(hit->distance - (20 - z)) < 0.005f);
    QVERIFY(!s.rays.first({{6, 0, 20}, {0, 0, -1}}));
    QVERIFY(s.rays.blocked({{0, 0, 20}, {0, 0, -1}}, 16) && !s.rays.blocked({{0, 0, 20}, {0, 0, -1}}, 14));
  }
  void hiddenPartsAreLookedThrough() {
    const Sculpt front = test::plane(4, 4, "Front");
    Sculpt back = test::plane(4, 4, "Back");
    for (Vec3& v : back.vertices) v.z() = -2;
    const Scene s(test::together(front, back));
    const Ray ray{{0.3f, 0.2f, 5}, {0, 0, -1}};
    QCOMPARE(s.surface->triangleParts[s.rays.first(ray)->triangle], 0u);
    QCOMPARE(s.surface->triangleParts[s.rays.first(ray, {0})->triangle], 1u);
    QVERIFY(!s.rays.first(ray, {0, 1}));
  }
  void nearestPointLiesOnTheTriangle() {
    const Scene s(test::plane(3, 3));
    const auto p = s.rays.nearest({0.4f, 0.9f, 0.6f}, 1);
    QVERIFY(p && near(p->position, {0.4f, 0.9f, 0}));
    QVERIFY(!s.rays.nearest({0, 0, 3}, 1));
    const auto edge = s.rays.nearest({2, 0, 0}, 1);
    QVERIFY(edge && near(edge->position, {1.5f, 0, 0}));
  }
  // A sphere seen in parallel covers π r² pixels.
  void visibilityCountsTheDisc() {
    const Scene s(test::sphere(128, 5));
    Camera c = framing(s);
    c.parallel = true;
    const float r = 5 * pixelsPerUnit(c, kSize, {0, 0, 0});
    VisibilityImage seen;
    QVERIFY(castVisibility(s.rays, c, kSize, {0.5f, 0.5f}, {}, seen));
    const auto hit = std::ranges::count_if(seen.triangle, [](uint32_t t) { return t != kNone; });
    QVERIFY(std::abs(static_cast<double>(hit) / (M_PI * static_cast<double>(r * r)) - 1) < 0.01);
    QVERIFY(!castVisibility(s.rays, c, kSize, {0.5f, 0.5f}, {}, seen, [] { return true; }));
  }
  // Ramamoorthi and Hanrahan 2001: even light of radiance one gives irradiance π, whatever the normal.
  void evenLightGivesPi() {
    const Harmonics even = projected([](const Vec3&) { return 1.f; });
    for (const Vec3& n : {Vec3(0, 1, 0), Vec3(0.6f, 0, -0.8f)}) {
      const Harmonics y = harmonicsAt(n);
      float e = 0;
      for (size_t k = 0; k < 9; ++k) e += even[k] * kCosineLobe[static_cast<size_t>(kBand[k])] * y[k];
      QVERIFY(std::abs(e - static_cast<float>(M_PI)) < 0.02f);
    }
  }
  void harmonicsAreOrthonormal() {
    for (size_t i = 0; i < 9; ++i) {
      const Harmonics p = projected([i](const Vec3& d) { return harmonicsAt(d)[i]; });
      for (size_t k = 0; k < 9; ++k) QVERIFY(std::abs(p[k] - (i == k ? 1.f : 0.f)) < 0.01f);
    }
  }
  // Closed forms: an open sphere sees everything; the foot of a wall half; the inside of a ball nothing.
  void opennessAgreesWithClosedForms() {
    const auto openness = [](const Sculpt& sculpt, const Vec3& place, int rays) {
      const auto surface = test::surfaceOf(sculpt);
      const Rays traced(surface, Rays::Quality::Full);
      LightTransfer t(surface->size());
      t.raise(traced, {}, 0, surface->size(), rays);
      size_t best = 0;
      for (size_t i = 0; i < surface->size(); ++i)
        if ((surface->positions[i] - place).norm() < (surface->positions[best] - place).norm()) best = i;
      return t.openness(best);
    };
    QVERIFY(openness(test::sphere(24, 1), {0, 0, 1}, 64) > 0.99f);
    Sculpt ball = test::sphere(24, 1);
    for (size_t p = 0; p < ball.polygonCount(); ++p)
      std::reverse(ball.corners.begin() + ball.polygonStart[p],
                   ball.corners.begin() + ball.polygonStart[p + 1]);
    QVERIFY(openness(ball, {0, 0, 1}, 64) < 0.01f);
    // floor z = 0 and a wall x = 0 many times larger than the distance to it
    Sculpt floor = test::plane(40, 40), wall = test::plane(40, 40);
    for (Vec3& v : floor.vertices) v.x() += 20.02f;
    for (Vec3& v : wall.vertices) v = Vec3(0, v.y(), v.x() + 20);
    const float corner = openness(test::together(floor, wall), {0.02f, 0, 0}, 4096);
    QVERIFY2(std::abs(corner - 0.5f) < 0.02f, qPrintable(QString::number(static_cast<double>(corner))));
  }
  void moreRaysGoOnWhereTheFirstEnded() {
    const Scene s(test::oddities(1));
    LightTransfer once(s.surface->size()), twice(s.surface->size());
    once.raise(s.rays, {}, 0, s.surface->size(), 24);
    twice.raise(s.rays, {}, 0, s.surface->size(), 8);
    twice.raise(s.rays, {}, 0, s.surface->size(), 16);
    for (size_t i = 0; i < s.surface->size(); ++i)
      QVERIFY(std::abs(once.openness(i) - twice.openness(i)) < 1e-5f);
  }
  // Where the first rays of a place and all beside it got through no more are cast; what they would have
  // found is hardly anything.
  void openSkinHasEnoughOfItsFirstRays() {
    const Scene s(test::together(test::torus(160, 8, 3), test::sphere(120, 4, {0, 1, 0})));
    LightTransfer all(s.surface->size()), some(s.surface->size());
    all.raise(s.rays, {}, 0, s.surface->size(), 64);
    for (const int count : {kFirstSkyRays, 64}) some.raise(s.rays, {}, 0, s.surface->size(), count);
    const Harmonics sky = harmonicsOf({});
    double off = 0, mean = 0;
    size_t open = 0;
    for (size_t i = 0; i < s.surface->size(); ++i) {
      QCOMPARE(some.raysOf(i), 64);
      const auto seen = [&](const LightTransfer& t) {
        return static_cast<double>(irradianceOf(LightTransfer::bandsOf(t.seen(*s.surface, i), sky), 0));
      };
      off += std::abs(seen(all) - seen(some));
      mean += seen(all);
      open += some.openness(i) == 1;
    }
    QVERIFY2(off < 0.01 * mean, qPrintable(QString::number(off / mean)));
    QVERIFY(open > s.surface->size() / 4 && open < s.surface->size());
  }
  void flatShowsTheStoredColourExactly() {
    const Scene s(test::sphere(32, 5), {100 / 255.f, 37 / 255.f, 211 / 255.f});
    const auto pixels = picture(s.rays, s.input(View::Flat, framing(s)), kSize, {}, 4);
    QCOMPARE(pixels[120 * 320 + 160], 0xff6425d3u);
    QCOMPARE(pixels[0], 0xff6c6c6cu);
  }
  void valueIsLuminanceAsGrey() {
    const EncodedColor c{0.2f, 0.7f, 0.4f};
    const Scene s(test::sphere(32, 5), c);
    const auto pixels = picture(s.rays, s.input(View::Value, framing(s)), kSize, {}, 1);
    const uint32_t p = pixels[120 * 320 + 160];
    const float y =
        encodeSrgb(0.2126f * decodeSrgb(c.r) + 0.7152f * decodeSrgb(c.g) + 0.0722f * decodeSrgb(c.b));
    QVERIFY(std::abs(static_cast<int>(p & 255) - static_cast<int>(std::lround(y * 255))) <= 1);
    QVERIFY((p & 255) == ((p >> 8) & 255) && (p & 255) == ((p >> 16) & 255));
  }
  void clayIsGreyWhateverTheColour() {
    const Scene a(test::sphere(32, 5), {1, 0, 0}), b(test::sphere(32, 5), {0, 1, 1});
    const auto p = picture(a.rays, a.input(View::Clay, framing(a)), kSize, {}, 1),
               q = picture(b.rays, b.input(View::Clay, framing(b)), kSize, {}, 1);
    QCOMPARE(p, q);
    for (const uint32_t v : p) QVERIFY((v & 255) == ((v >> 8) & 255) && (v & 255) == ((v >> 16) & 255));
  }
  void lightComesFromAboveAndFollowsTheDial() {
    Light front, right;
    front.dial = 0;
    right.dial = 90;
    QVERIFY(patchDirection(front).z() > 0.5f && patchDirection(right).x() > 0.5f);
    QVERIFY(radiance(front, {0, 1, 0}) > 2 * radiance(front, {0, -1, 0}));
    QVERIFY(radiance(right, patchDirection(right)) > radiance(front, patchDirection(right)));
  }
  // The numbers themselves, as grey or by the table; heights either way of none by the scale that is asked
  // for.
  void theChannelViewShowsNumbers() {
    Document d = test::documentOf(test::plane(20, 10));
    ChannelValues values(0.4f, 0.3f, 0.2f);
    values[Channel::Gloss] = 0.3f;
    values[Channel::Metal] = 0.9f;
    values[Channel::Relief] = 0.02f;
    values[Channel::Glow] = 0.6f;
    d = withSourceLayer(d, "All", Stratum::Flesh, fillSource(values));
    const auto middle = [&](const ChannelLook& look) {
      StillSetting setting;
      setting.size = kSize;
      setting.camera = framed({}, kSize, d.surface->bounds);
      setting.view = View::Channel;
      setting.channel = look;
      return (*stillOf(d, setting))[120 * 320 + 160];
    };
    const std::pair<ChannelLook, float> cases[] = {{{Channel::Gloss}, 0.3f},
                                                   {{Channel::Metal}, 0.9f},
                                                   {{Channel::Glow}, 0.6f},
                                                   {{Channel::Relief, false, 0.04f}, 0.75f},
                                                   {{Channel::Relief}, 1.f}};
    for (const auto& [look, value] : cases) {
      const uint32_t pixel = middle(look);
      QVERIFY2(std::abs(static_cast<float>(pixel & 255) / 255 - value) < 0.006f,
               qPrintable(QString::number(pixel & 255)));
      QVERIFY((pixel >> 8 & 255) == (pixel & 255) && (pixel >> 16 & 255) == (pixel & 255));
      ChannelLook colored = look;
      colored.falseColor = true;
      const Rgba16& wanted = falseColors()[pixel & 255];
      QVERIFY(std::abs(static_cast<int>(middle(colored) >> 16 & 255) - (wanted.r >> 8)) <= 2);
    }
  }
  // What glows gives off its own colour times its glow, on top of what light leaves there: as the emissive
  // factor of glTF 2.0 is added (section 3.9.3 of its specification).
  void whatGlowsAddsItsOwnColour() {
    const auto lit = [](float glow) {
      Document d = test::documentOf(test::plane(20, 10));
      ChannelValues values(0.5f, 0.4f, 0.2f);
      values[Channel::Glow] = glow;
      d = withSourceLayer(d, "Lit", Stratum::Flesh, fillSource(values));
      StillSetting setting;
      setting.size = kSize;
      setting.camera = framed({}, kSize, d.surface->bounds);
      setting.light.exposure = -2;
      const uint32_t p = (*stillOf(d, setting))[120 * 320 + 160];
      const auto linear = [&](int shift) {
        return decodeSrgb16(static_cast<uint16_t>(257 * (p >> shift & 255)));
      };
      return std::array{linear(16), linear(8), linear(0)};
    };
    const auto dark = lit(0), bright = lit(0.8f);
    const std::array<float, 3> albedo{decodeSrgb16(to16(0.5f)), decodeSrgb16(to16(0.4f)),
                                      decodeSrgb16(to16(0.2f))};
    for (size_t c = 0; c < 3; ++c)
      QVERIFY2(std::abs(bright[c] - dark[c] - 0.25f * 0.8f * albedo[c]) < 0.002f,
               qPrintable(QString::number(static_cast<double>(bright[c] - dark[c]))));
  }
  void shadingARectangleIsShadingThatPartOfThePicture() {
    const Scene s(test::sphere(48, 5));
    const Camera c = framing(s);
    VisibilityImage seen;
    castVisibility(s.rays, c, kSize, {0.5f, 0.5f}, {}, seen);
    std::vector<uint32_t> whole(320 * 240), part(320 * 240, 7);
    shade(s.input(View::Skin, c), seen, {0, 0, 320, 240}, whole);
    shade(s.input(View::Skin, c), seen, {100, 50, 180, 999}, part);
    for (int y = 0; y < 240; ++y)
      for (int x = 0; x < 320; ++x) {
        const size_t i = static_cast<size_t>(y * 320 + x);
        QCOMPARE(part[i], x >= 100 && x < 180 && y >= 50 ? whole[i] : 7u);
      }
  }
  void theRectangleOfAChunkHoldsAllItsPixels() {
    const Scene s(test::sphere(120, 5));
    const Camera c = turned(framing(s), {60, 30});
    VisibilityImage seen;
    castVisibility(s.rays, c, kSize, {0.5f, 0.5f}, {}, seen);
    size_t inside = 0;
    for (uint32_t chunk = 0; chunk < chunkCount(s.surface->size()); ++chunk) {
      const PixelRect r = rectOfChunks(*s.surface, c, kSize, std::vector{chunk});
      for (int y = 0; y < 240; ++y)
        for (int x = 0; x < 320; ++x) {
          const uint32_t t = seen.triangle[static_cast<size_t>(y * 320 + x)];
          if (t == kNone) continue;
          for (const uint32_t sample : s.surface->triangles[t])
            if (sample / kChunkSize == chunk) {
              QVERIFY(x >= r.left && x < r.right && y >= r.top && y < r.bottom);
              ++inside;
            }
        }
    }
    // each pixel on the sculpt three times: once for every corner of its triangle
    const auto seenPixels =
        static_cast<size_t>(std::ranges::count_if(seen.triangle, [](uint32_t t) { return t != kNone; }));
    QVERIFY(seenPixels > 5000);
    QCOMPARE(inside, 3 * seenPixels);
  }
  void penFollowsTheSkinAndLiftsWhereThereIsNone() {
    Document d =
        withPaintedLayer(test::documentOf(test::together(test::plane(60, 10, "L"), test::plane(60, 10, "R"))),
                         "p", Stratum::Flesh);
    Sculpt two = test::together(test::plane(60, 10, "One"), test::plane(60, 10, "One"));
    for (size_t i = two.vertices.size() / 2; i < two.vertices.size(); ++i) two.vertices[i].x() += 14;
    two.parts = {"One"};
    std::ranges::fill(two.polygonPart, 0u);
    d = withPaintedLayer(test::documentOf(two), "p", Stratum::Flesh);
    const Rays rays(d.surface, Rays::Quality::Full);
    Camera c = framed({}, kSize, d.surface->bounds);
    c.parallel = true;
    StrokeSetting setting;
    setting.ink = inkKind("lay");
    setting.layer = d.activeLayer;
    setting.brush.radius = 1.5f;
    setting.brush.flow = 1;
    Flood flood;
    auto stroke = PaintStroke::begin(d, setting, flood);
    PenPath path({&rays, nullptr, c, kSize}, setting.brush);
    const auto at = [&](float x) {
      const Vec3 q = project(c, kSize, {x, 0, 0});
      return PenPoint{{q.x(), q.y()}, 1, {0, 0}, 0};
    };
    path.move(at(-3), (*stroke)->stroke());
    path.move(at(17), (*stroke)->stroke());
    path.finish((*stroke)->stroke());
    const Document done = *(*stroke)->finish();
    const ColorField& field = *layerOf(done, setting.layer)->source->painted();
    size_t onBoth = 0;
    for (size_t i = 0; i < done.surface->size(); ++i) {
      const Vec3& p = done.surface->positions[i];
      if (std::abs(p.y()) > 0.2f) continue;
      if ((p.x() > -3 && p.x() < 5) || (p.x() > 9 && p.x() < 17)) {
        QVERIFY(colorAt(field, i).a > 30000);
        ++onBoth;
      }
    }
    QVERIFY(onBoth > 60);
  }
  void steadyTrailsByItsStringAndCatchesUp() {
    Brush b;
    b.radius = 0.5f;
    b.steady = 40;
    Document d = withPaintedLayer(test::documentOf(test::plane(60, 10)), "p", Stratum::Flesh);
    const Rays rays(d.surface, Rays::Quality::Full);
    Camera c = framed({}, kSize, d.surface->bounds);
    StrokeSetting setting;
    setting.ink = inkKind("lay");
    setting.layer = d.activeLayer;
    setting.brush = b;
    Flood flood;
    auto stroke = PaintStroke::begin(d, setting, flood);
    PenPath path({&rays, nullptr, c, kSize}, b);
    path.move({{100, 120}, 1, {0, 0}, 0}, (*stroke)->stroke());
    path.move({{220, 120}, 1, {0, 0}, 0.1}, (*stroke)->stroke());
    const float trailing = project(c, kSize, path.last()->position).x();
    QVERIFY(std::abs(trailing - 180) < 1.5f);
    // back within the string it stays
    path.move({{160, 120}, 1, {0, 0}, 0.2}, (*stroke)->stroke());
    QVERIFY(std::abs(project(c, kSize, path.last()->position).x() - 180) < 1.5f);
    path.move({{220, 120}, 1, {0, 0}, 0.3}, (*stroke)->stroke());
    path.finish((*stroke)->stroke());
    QVERIFY(std::abs(project(c, kSize, path.last()->position).x() - 220) < 1.5f);
  }
  // Many samples are framed by boxes of some of them: few points, around all that is shown and little more.
  void manySamplesAreFramedByBoxes() {
    Document d = test::documentOf(test::together(test::sphere(400, 10), test::sphere(40, 3, {30, 0, 0})));
    QVERIFY(d.surface->size() > 200'000);
    const auto boxOf = [](const std::vector<Vec3>& points) {
      Box box;
      for (const Vec3& p : points) box.add(p);
      return box;
    };
    const auto near = [](const Box& box, const Vec3& center, float radius) {
      const Vec3 low = center - box.low - Vec3::Constant(radius),
                 high = box.high - center - Vec3::Constant(radius);
      return low.minCoeff() > -1e-4f && high.minCoeff() > -1e-4f && low.maxCoeff() < 0.2f &&
             high.maxCoeff() < 0.2f;
    };
    QVERIFY(shownPoints(d).size() < d.surface->size() / 20);
    QVERIFY((boxOf(shownPoints(d)).high - Vec3(33, 10, 10)).cwiseAbs().maxCoeff() < 0.2f);
    QVERIFY(near(boxOf(shownPoints(d, 0)), {0, 0, 0}, 10));
    QVERIFY(near(boxOf(shownPoints(d, 1)), {30, 0, 0}, 3));
    d.hiddenParts = {1};
    QVERIFY(near(boxOf(shownPoints(d)), {0, 0, 0}, 10));
    d.hiddenParts = {0, 1};
    QVERIFY(shownPoints(d).empty());
  }
};

JUVENOR_TEST(TestRender)
}  // namespace juvenor
#include "test_render.moc"
