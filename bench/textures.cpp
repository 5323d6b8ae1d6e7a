// What texture maps cost: five of 4,096 pixels for the sculpt itself and for a light mesh, against packing
// the same pictures as PNG; twice the pixels; a map read into a layer.
#include <fmt/format.h>

#include <cmath>
#include <filesystem>

#include "core/document/edits/edits.h"
#include "core/document/edits/paint_stroke.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/registry.h"
#include "core/parallel.h"
#include "core/pen/pen_path.h"
#include "core/textures/bring_maps.h"
#include "core/textures/hand_on.h"
#include "core/textures/sheet_layout.h"
#include "figures.h"

namespace juvenor::bench {
namespace {

// A ball of so many rings, unrolled to one tile.
Sculpt ball(int rings, float radius) {
  Sculpt out;
  out.name = out.parts.emplace_back("Ball");
  out.polygonStart = {0};
  UvSet uv{"UV", {}, {}};
  const int around = 2 * rings;
  for (int y = 0; y <= rings; ++y)
    for (int x = 0; x <= around; ++x) {
      const float down =
          0.02f + (static_cast<float>(M_PI) - 0.04f) * static_cast<float>(y) / static_cast<float>(rings);
      const float a = 2 * static_cast<float>(M_PI) * static_cast<float>(x) / static_cast<float>(around);
      if (x < around)
        out.vertices.push_back(
            radius * Vec3(std::sin(down) * std::sin(a), std::cos(down), std::sin(down) * std::cos(a)));
      uv.coordinates.emplace_back(0.02f + 0.96f * static_cast<float>(x) / static_cast<float>(around),
                                  0.98f - 0.96f * static_cast<float>(y) / static_cast<float>(rings));
    }
  for (int y = 0; y < rings; ++y)
    for (int x = 0; x < around; ++x) {
      const int corners[4][2] = {{x, y}, {x, y + 1}, {x + 1, y + 1}, {x + 1, y}};
      for (const auto& c : corners) {
        out.corners.push_back(static_cast<uint32_t>(c[1] * around + c[0] % around));
        uv.corner.push_back(static_cast<uint32_t>(c[1] * (around + 1) + c[0]));
      }
      out.polygonStart.push_back(static_cast<uint32_t>(out.corners.size()));
      out.polygonPart.push_back(0);
    }
  out.uvSets = {uv};
  return out;
}

struct Baking {
  std::vector<TexelMapPointer> maps;
  std::vector<MapToBake> toBake;
};

Baking fiveMaps(const BakeGround& ground) {
  Baking out;
  for (const TextureKind kind : {TextureKind::Colour, TextureKind::Roughness, TextureKind::Metal,
                                 TextureKind::Normal, TextureKind::Height}) {
    auto map = texelMap(TextureWish(kind), ground.input(NormalsFrom::Everything, true));
    const MapDepth depth = kind == TextureKind::Height ? MapDepth::Whole16 : MapDepth::Whole8;
    out.toBake.push_back({map->get(), factsOf(kind).role, factsOf(kind).planes, depth, ground.heightRange});
    out.maps.push_back(std::move(*map));
  }
  return out;
}

// The sheet: pictures a second while it pans, and a stroke on it against the same on the easel.
void benchSheet(const Document& document) {
  const Document d = withPaintedLayer(document, "Paint", Stratum::Pigment);
  const SheetPointer sheet = *sheetOf(d, 0);
  const auto rays = *d.maps->rays();
  const ChannelFields skin = *skinOf(d.layers, *d.maps, d.bare);
  const ViewSize size{640, 700};
  Camera camera = framedTile(sheetCamera(), size, 1001);
  ShadeInput input;
  input.surface = d.surface.get();
  input.skin = &skin;
  input.view = View::Flat;
  input.sheet = sheet->flat.get();
  input.lines = sheet->borders;
  VisibilityImage seen;
  std::vector<uint32_t> frame(static_cast<size_t>(size.width) * static_cast<size_t>(size.height));
  const double panned = secondsOf(
      "a picture of the sheet",
      [&] {
        camera.target.x() += 0.003f;
        input.sheetCamera = camera;
        castVisibility(*sheet->rays, camera, size, {0.5f, 0.5f}, {}, seen);
        shade(input, seen, {0, 0, size.width, size.height}, frame);
      },
      10);
  add({"All pixels of the sheet, 2 M points", milliseconds(panned), "a tenth of a second",
       fmt::format("{:.2f}", panned * 10), "1.2"});
  // what is shown while it moves
  const ViewSize third{size.width / 3, size.height / 3};
  const double moved = secondsOf(
      "a picture of the moving sheet",
      [&] {
        camera.target.x() += 0.003f;
        input.sheetCamera = camera;
        castVisibility(*sheet->rays, camera, third, {0.5f, 0.5f}, {}, seen);
        shade(input, seen, {0, 0, third.width, third.height}, frame);
      },
      10);
  add({"A picture of the sheet while panning, 2 M points", milliseconds(moved), "a thirtieth of a second",
       fmt::format("{:.2f}", moved * 30), "1"});
  StrokeSetting setting;
  setting.brush.radius = 6;
  setting.brush.flow = 0.3f;
  setting.ink = inkKind("lay");
  setting.paint.color = EncodedColor{0.6f, 0.3f, 0.2f};
  setting.layer = d.activeLayer;
  Flood flood;
  flood.prepare(*d.surface);
  // the same way over the skin: across the equator's front
  const Camera flat = framedTile(sheetCamera(), size, 1001);
  Camera front = framed(Camera{}, size, d.surface->bounds);
  const auto stroke = [&](const Eye& eye, const Vec2& from, const Vec2& to) {
    auto painting = *PaintStroke::begin(d, setting, flood);
    PenPath path(eye, setting.brush);
    for (int i = 0; i <= 60; ++i)
      path.move({from + (to - from) * (static_cast<float>(i) / 60), 1, {0, 0}, 0.01 * i}, painting->stroke());
    path.finish(painting->stroke());
    if (painting->stroke().dabCount() < 10) std::abort();
  };
  const auto at = [&](const Vec3& p) { return Vec2(project(front, size, p).head<2>()); };
  const auto on = [&](float u) { return Vec2(project(flat, size, {u, 0.5f, 0}).head<2>()); };
  // around from +z over +x: u 0.02 and 0.18 of 0.96 are 0 and 60 degrees
  const float far = 100 * std::sin(static_cast<float>(M_PI) / 3),
              near = 100 * std::cos(static_cast<float>(M_PI) / 3);
  const double easel = secondsOf(
      "a stroke on the easel",
      [&] {
        stroke({rays.get(), nullptr, front, size}, at({0, 0, 100}), at({far, 0, near}));
      },
      5);
  const double onSheet = secondsOf(
      "a stroke on the sheet",
      [&] {
        stroke({rays.get(), sheet->rays.get(), flat, size}, on(0.02f), on(0.18f));
      },
      5);
  add({"A stroke on the sheet", milliseconds(onSheet), "the same on the easel",
       fmt::format("{:.2f}", onSheet / easel), "1.2"});
}

}  // namespace

void benchTextures() {
  const auto sculpt = std::make_shared<const Sculpt>(ball(1000, 100));
  const auto surface = buildSurface(*sculpt);
  Document d = newDocument(sculpt, *surface);
  for (const SourceKind* kind : {&kFillKind, &kMottleKind, &kScalesKind})
    d = withSourceLayer(d, std::string(kind->key), Stratum::Pigment,
                        kind->fresh(*d.surface, {0.7f, 0.45f, 0.35f}));
  const auto folder = std::filesystem::temp_directory_path() / "juvenor-bench-maps";
  std::filesystem::create_directories(folder);
  const auto own = *bakeGround(d, {}, true);
  Baking five = fiveMaps(*own);
  BakedTile baked;
  const auto bakeFive = [&](const BakeGround& ground, Baking& maps, int pixels) {
    baked = *bakeTile({1001, pixels, 1, 16}, *ground.places, maps.toBake);
  };
  const double small = secondsOf(
      "five maps of 2,048", [&] { bakeFive(*own, five, 2048); }, 3);
  const double large = secondsOf(
      "five maps of 4,096", [&] { bakeFive(*own, five, 4096); }, 3);
  const double packed = secondsOf(
      "five PNGs of 4,096",
      [&] {
        parallel(
            baked.maps.size(),
            [&](size_t m) {
              const Outcome ok = writeMap(folder / fmt::format("{}.png", m), MapFormat::Png, baked.maps[m],
                                          five.toBake[m].role);
              if (!ok) std::abort();
            },
            1);
      },
      3);
  add({"Five maps of 4,096, 2 M points", milliseconds(large), "packing them as PNG",
       fmt::format("{:.2f}", large / packed), "1.5"});
  add({"… twice the pixels a side", milliseconds(large), "four times the quarter",
       fmt::format("{:.2f}", large / (4 * small)), "1.1"});
  WornBy by;
  by.mesh = std::make_shared<const Sculpt>(ball(100, 100));
  const auto light = *bakeGround(d, by, true);
  Baking other = fiveMaps(*light);
  const double rays = secondsOf(
      "five maps of 4,096 for another mesh", [&] { bakeFive(*light, other, 4096); }, 3);
  add({"… for a mesh of 40 k triangles, by rays", milliseconds(rays), "packing them as PNG",
       fmt::format("{:.2f}", rays / packed), "2.5"});
  BroughtMap colour;
  colour.tiles = tilesBeside(folder / "0.png");
  const double read = secondsOf(
      "a colour map of 4,096 into a layer",
      [&] {
        if (!withMaps(d, 0, {colour}, "Back")) std::abort();
      },
      3);
  add({"A colour map of 4,096 into a layer, 2 M points", milliseconds(read), "1 s",
       fmt::format("{:.2f}", read), "1"});
  std::filesystem::remove_all(folder);
  benchSheet(d);
}

}  // namespace juvenor::bench
