// The sheet: the skin laid flat is seen where its UVs say, islands end where they end, what lies on top is
// the lowest triangle, a pen over it is a pen on the skin beneath, and its density is what one works out by
// hand.
#include <cmath>

#include "core/document/edits/edits.h"
#include "core/document/edits/paint_stroke.h"
#include "core/pen/pen_path.h"
#include "core/render/squares.h"
#include "core/textures/layout_density.h"
#include "core/textures/sheet_layout.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// A square of 100 with the same square as its layout; `at`: its place in it, `size` of a tile.
Sculpt square(int cells, const Vec2& at = {0, 0}, float size = 1, const std::string& part = "Plane") {
  Sculpt out = test::plane(cells, 100, part);
  UvSet uv{"UV", {}, out.corners};
  for (const Vec3& v : out.vertices)
    uv.coordinates.push_back(at + size * Vec2(v.x() / 100 + 0.5f, v.y() / 100 + 0.5f));
  out.uvSets = {uv};
  return out;
}

SheetPointer sheetOrDie(const Document& d) {
  auto out = sheetOf(d, 0);
  if (!out) qFatal("%s", out.error().message().c_str());
  return *out;
}

size_t bordersOf(const Sheet& sheet) {
  size_t out = 0;
  for (const uint8_t bits : sheet.borders) out += static_cast<size_t>(std::popcount(bits));
  return out;
}

constexpr ViewSize kSize{400, 400};

}  // namespace

class TestSheet : public QObject {
  Q_OBJECT
 private slots:
  void whatIsSeenLiesWhereItsUvsSay_data() {
    QTest::addColumn<bool>("refined");
    QTest::newRow("as it came") << false;
    QTest::newRow("with added points") << true;
  }
  void whatIsSeenLiesWhereItsUvsSay() {
    QFETCH(bool, refined);
    Document d = test::documentOf(square(30));
    if (refined) {
      auto finer = withRefinement(d, {});
      QVERIFY(finer);
      d = std::move(*finer);
    }
    const SheetPointer sheet = sheetOrDie(d);
    QCOMPARE(sheet->flat->triangles.size(), d.surface->triangles.size());
    QCOMPARE(sheet->tiles, std::vector{1001});
    // the rim, and nothing inside
    QCOMPARE(bordersOf(*sheet), size_t{4 * 30} * (refined ? 2 : 1));
    const Camera camera = framedTile(sheetCamera(), kSize, 1001);
    VisibilityImage seen;
    QVERIFY(castVisibility(*sheet->rays, camera, kSize, {0.5f, 0.5f}, {}, seen));
    const Rays rays(d.surface, Rays::Quality::Full);
    const Eye eye{&rays, sheet->rays.get(), camera, kSize};
    size_t covered = 0;
    for (int y = 3; y < 400; y += 13)
      for (int x = 3; x < 400; x += 13) {
        const Vec2 pixel(static_cast<float>(x) + 0.5f, static_cast<float>(y) + 0.5f);
        const auto place = eye.placeAt(pixel);
        QCOMPARE(place.has_value(), seen.triangle[static_cast<size_t>(y * 400 + x)] != kNone);
        if (!place) continue;
        ++covered;
        // where the ray meets the layout, by the camera alone
        const Ray ray = rayThrough(camera, kSize, pixel);
        const Vec2 uv = ray.origin.head<2>();
        QVERIFY((place->position - Vec3(100 * uv.x() - 50, 100 * uv.y() - 50, 0)).norm() < 0.01f);
        QVERIFY((*placeOnSheet(*sheet, *place) - uv).norm() < 1e-4f);
        // a tile is the 100 units across
        QVERIFY(std::abs(eye.pixelsPerUnit(*place) * 100 -
                         pixelsPerUnit(camera, kSize, {uv.x(), uv.y(), 0})) < 0.1f);
        QVERIFY((eye.along(*place, {3, 0}) - Vec3(3, 0, 0)).norm() < 1e-3f);
        QVERIFY((eye.along(*place, {0, 2}) - Vec3(0, -2, 0)).norm() < 1e-3f);
      }
    QVERIFY2(covered > 500, qPrintable(QString::number(covered)));
  }
  // Two parts on the same place: the polygon that comes first is seen.
  void theLowestTriangleLiesOnTop() {
    Sculpt both = test::together(square(10, {0, 0}, 1, "First"), square(10, {0, 0}, 1, "Second"));
    for (size_t v = both.vertices.size() / 2; v < both.vertices.size(); ++v) both.vertices[v].z() = 40;
    const Document d = test::documentOf(both);
    const SheetPointer sheet = sheetOrDie(d);
    const Camera camera = framedTile(sheetCamera(), kSize, 1001);
    const Rays rays(d.surface, Rays::Quality::Full);
    for (const float x : {120.f, 200.f, 280.f}) {
      const auto first = Eye{&rays, sheet->rays.get(), camera, kSize}.placeAt({x, 190});
      QVERIFY(first && first->part == 0);
      // hidden ones are looked through
      const auto second = Eye{&rays, sheet->rays.get(), camera, kSize, {0}}.placeAt({x, 190});
      QVERIFY(second && second->part == 1);
    }
  }
  // Painted flat or over the skin: the same dabs at the same places.
  void aPenOnTheSheetIsAPenOnTheSkin() {
    const Document d = withPaintedLayer(test::documentOf(square(60)), "Paint", Stratum::Pigment);
    const SheetPointer sheet = sheetOrDie(d);
    const Rays rays(d.surface, Rays::Quality::Full);
    const Camera flat = framedTile(sheetCamera(), kSize, 1001);
    Camera above = flat;
    above.target = 100 * (flat.target - Vec3(0.5f, 0.5f, 0));
    above.distance = 100 * flat.distance;
    StrokeSetting setting;
    setting.brush.radius = 6;
    setting.brush.flow = 0.4f;
    setting.ink = inkKind("lay");
    setting.paint.color = {0.8f, 0.2f, 0.1f};
    setting.layer = d.activeLayer;
    const auto painted = [&](const Eye& eye) {
      Flood flood;
      auto stroke = PaintStroke::begin(d, setting, flood);
      PenPath path(eye, setting.brush);
      for (int i = 0; i <= 20; ++i)
        path.move({{80.f + 12 * static_cast<float>(i), 200 + 60 * std::sin(0.4f * static_cast<float>(i))},
                   0.8f,
                   {0, 0},
                   0.01 * i},
                  (*stroke)->stroke());
      path.finish((*stroke)->stroke());
      return *(*stroke)->finish();
    };
    const Document onSheet = painted({&rays, sheet->rays.get(), flat, kSize});
    const Document onEasel = painted({&rays, nullptr, above, kSize});
    const ColorField &a = *layerOf(onSheet, setting.layer)->source->painted(),
                     &b = *layerOf(onEasel, setting.layer)->source->painted();
    size_t laid = 0, apart = 0;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      laid += a.at(s)[3] > 0;
      apart += std::abs(int{a.at(s)[3]} - int{b.at(s)[3]}) > 655;
    }
    QVERIFY2(laid > 300, qPrintable(QString::number(laid)));
    QVERIFY2(apart == 0, qPrintable(QString::number(apart)));
  }
  // What a chunk's samples show lies within the rectangles that are shaded anew for it.
  void chunksAreFoundAgain() {
    const Document d =
        test::documentOf(test::together(square(80, {0, 0}, 0.45f), square(80, {0.5f, 0.5f}, 0.45f)));
    const SheetPointer sheet = sheetOrDie(d);
    const Camera camera = framedTile(sheetCamera(), kSize, 1001);
    VisibilityImage seen;
    castVisibility(*sheet->rays, camera, kSize, {0.5f, 0.5f}, {}, seen);
    const auto chunks = static_cast<uint32_t>(chunkCount(d.surface->size()));
    QVERIFY(chunks > 2);
    size_t tried = 0;
    for (uint32_t c = 0; c < chunks; ++c) {
      const std::vector<PixelRect> rects = rectsOfChunks(*sheet, camera, kSize, std::array{c});
      for (int y = 0; y < 400; y += 3)
        for (int x = 0; x < 400; x += 3) {
          const uint32_t t = seen.triangle[static_cast<size_t>(y * 400 + x)];
          if (t == kNone) continue;
          const auto& samples = d.surface->triangles[t];
          if (std::ranges::none_of(samples, [&](uint32_t s) { return s / kChunkSize == c; })) continue;
          ++tried;
          QVERIFY(std::ranges::any_of(rects, [&](const PixelRect& r) {
            return x >= r.left && x < r.right && y >= r.top && y < r.bottom;
          }));
        }
    }
    QVERIFY(tried > 2000);
  }
  // 100 units as a tile of 1,024 pixels: points 2 units apart lie 20.5 texels apart; a half as wide gets
  // half.
  void densityIsWhatOneWorksOut() {
    const Document d = test::documentOf(
        test::together(square(50, {0, 0}, 0.5f, "Face"), square(50, {0.5f, 0.5f}, 0.25f, "Hand")));
    const SheetPointer sheet = sheetOrDie(d);
    const LayoutDensity density = layoutDensity(*sheet, 256);
    QCOMPARE(density.parts.size(), size_t{2});
    QVERIFY(std::abs(density.parts[0] - 1) < 1e-4f && std::abs(density.parts[1] - 0.5f) < 1e-4f);
    // in the middle of the face: 256 · 0.5 / 50 = 2.56 texels from point to point
    size_t seen = 0;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      const Vec3& p = d.surface->positions[s];
      if (d.surface->parts[s] != 0 || p.head<2>().cwiseAbs().maxCoeff() > 40) continue;
      const float texels = std::exp2((from16(density.texels.at(s)[0]) - 0.5f) * 4);
      // (a square net stands for one of even triangles)
      QVERIFY2(std::abs(texels / 2.56f - 1) < 0.15f, qPrintable(QString::number(texels)));
      ++seen;
    }
    QVERIFY(seen > 1000);
    // the hand: 0.25 / 50 of a tile from point to point wants 200 pixels
    QCOMPARE(density.holdsAll, 256);
  }
  void squaresAreNumberedFromTheLeftBottom() {
    // light and dark in turn, and something is written in each
    const auto shares = [](int x, int y) {
      float least = 1, most = 0;
      for (int i = 0; i < 30; ++i)
        for (int k = 0; k < 30; ++k) {
          const float g =
              greyOfSquare(Vec2((static_cast<float>(x) + (static_cast<float>(i) + 0.5f) / 30) / kSquares,
                                (static_cast<float>(y) + (static_cast<float>(k) + 0.5f) / 30) / kSquares));
          least = std::min(least, g);
          most = std::max(most, g);
        }
      return std::pair(least, most);
    };
    for (int i = 0; i < kSquares; ++i) {
      const auto [least, most] = shares(i, 3);
      QVERIFY(most - least > 0.2f);
    }
    // the corner of a square is never written on
    QVERIFY(greyOfSquare({0.001f, 0.001f}) > 0.7f);
    QVERIFY(greyOfSquare({1.001f / kSquares, 0.001f}) < 0.4f);
    QVERIFY(greyOfSquare({-0.999f, 5.001f}) > 0.7f);
  }
  void layoutsThatAreNoneAreTold() {
    Sculpt bare = test::plane(4, 10);
    const auto none = sheetOf(test::documentOf(bare), 0);
    QVERIFY(!none && none.error().what.find("no UVs") != std::string::npos);
    Sculpt wild = square(4);
    for (Vec2& uv : wild.uvSets[0].coordinates) uv = Vec2(1e30f, std::numeric_limits<float>::quiet_NaN());
    const auto nothing = sheetOf(test::documentOf(wild), 0);
    QVERIFY(!nothing && nothing.error().what.find("lays nothing out") != std::string::npos);
    // one polygon astray leaves the others
    Sculpt some = square(4);
    some.uvSets[0].coordinates[0] = Vec2(1e30f, 0);
    QVERIFY(sheetOf(test::documentOf(some), 0));
  }
};

JUVENOR_TEST(TestSheet)
}  // namespace juvenor
#include "test_sheet.moc"
