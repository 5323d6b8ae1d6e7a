// What texture maps cost: five of 4,096 pixels for the sculpt itself and for a light mesh, against packing
// the same pictures as PNG; twice the pixels; a map read into a layer.
#include <fmt/format.h>

#include <cmath>
#include <filesystem>

#include "core/document/edits/edits.h"
#include "core/layers/sources/registry.h"
#include "core/parallel.h"
#include "core/textures/bring_maps.h"
#include "core/textures/hand_on.h"
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
}

}  // namespace juvenor::bench
