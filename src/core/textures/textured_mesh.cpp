#include "core/textures/textured_mesh.h"

#include <fmt/format.h>

#include <map>

#include "core/document/edits/edit_variants.h"
#include "core/files.h"
#include "core/sculpt/each_triangle.h"
#include "core/sculpt/formats.h"
#include "core/sculpt/written_names.h"
#include "core/textures/uv_layout.h"

namespace juvenor {
namespace {

// The tile each polygon lies in: that of its middle, 1001 where it lies nowhere.
std::vector<int> tilesOfPolygons(const Sculpt& mesh, const UvSet& uv) {
  std::vector<int> out(mesh.polygonCount(), 1001);
  parallel(out.size(), [&](size_t p) {
    Vec2 sum = Vec2::Zero();
    for (uint32_t c = mesh.polygonStart[p]; c < mesh.polygonStart[p + 1]; ++c) {
      if (uv.corner[c] == kNone) return;
      sum += uv.coordinates[uv.corner[c]];
    }
    sum /= static_cast<float>(mesh.polygonStart[p + 1] - mesh.polygonStart[p]);
    out[p] = tileOf(sum).value_or(1001);
  });
  return out;
}

// A copy whose first UV set is the one the maps are for.
Sculpt withSetFirst(const Sculpt& mesh, size_t set) {
  Sculpt out = mesh;
  std::rotate(out.uvSets.begin(), out.uvSets.begin() + static_cast<std::ptrdiff_t>(set),
              out.uvSets.begin() + static_cast<std::ptrdiff_t>(set) + 1);
  return out;
}

// Materials without pictures yet: one for each part, and for each tile it lies in.
struct TiledMaterials {
  MaterialSet set;
  std::vector<int> tiles;  // of each material
};

TiledMaterials materialsOf(const Sculpt& mesh, bool manyTiles) {
  TiledMaterials out;
  const std::vector<std::string> names = writtenNames(mesh);
  const std::vector<int> tiles = tilesOfPolygons(mesh, mesh.uvSets.front());
  std::map<std::pair<uint32_t, int>, uint32_t> known;
  for (size_t p = 0; p < mesh.polygonCount(); ++p) known[{mesh.polygonPart[p], tiles[p]}] = 0;
  for (auto& [key, number] : known) {
    const auto& [part, tile] = key;
    number = static_cast<uint32_t>(out.tiles.size());
    Material material;
    material.name = manyTiles ? fmt::format("{}.{}", names[part], tile) : names[part];
    std::ranges::replace(material.name, ' ', '_');
    out.set.materials.push_back(material);
    out.set.tileOrigin.emplace_back(static_cast<float>((tile - 1001) % 10),
                                    static_cast<float>((tile - 1001) / 10));
    out.tiles.push_back(tile);
  }
  for (size_t p = 0; p < mesh.polygonCount(); ++p)
    out.set.polygonMaterial.push_back(known[{mesh.polygonPart[p], tiles[p]}]);
  return out;
}

// Occlusion, roughness and metal in one picture as glTF has them: open sky is 1 there.
class GltfSurface : public TexelMap {
 public:
  explicit GltfSurface(TexelMapPointer packed) : packed_(std::move(packed)) {}
  void add(const TexelPlace& p, Values& sum) const override {
    Values one{};
    packed_->add(p, one);
    sum[0] += 1 - one[0];
    sum[1] += one[1];
    sum[2] += one[2];
  }

 private:
  TexelMapPointer packed_;
};

struct GltfMaps {
  TexelMapPointer color, surface, normal;
  // those that not every skin has
  struct Seldom {
    std::string_view name;
    TexelMapPointer map;
    TextureRole role;
    int planes;
    int Material::*shown;
  };
  std::vector<Seldom> seldom;
};

// One number as a grey colour: where glTF wants the light of down.
class GreyTexels : public TexelMap {
 public:
  explicit GreyTexels(TexelMapPointer number) : number_(std::move(number)) {}
  void add(const TexelPlace& p, Values& sum) const override {
    Values one{};
    number_->add(p, one);
    for (size_t c = 0; c < 3; ++c) sum[c] += one[0];
  }

 private:
  TexelMapPointer number_;
};

Outcome addSeldom(std::vector<GltfMaps::Seldom>& out, const MapInput& input, const ChannelFields& skin,
                  const Progress& progress) {
  const auto made = [&](TextureKind kind, std::string_view name, TextureRole role, int planes,
                        int Material::*shown) -> Outcome {
    auto map = texelMap(kind, input, progress);
    if (!map) return map.error();
    if (kind == TextureKind::Fuzz) *map = std::make_unique<GreyTexels>(std::move(*map));
    out.push_back({name, std::move(*map), role, planes, shown});
    return Done{};
  };
  Outcome ok = Done{};
  if (skin.get<Channel::Glow>().holdsAny())
    ok = made(TextureKind::Emission, "emission", TextureRole::Color, 3, &Material::emission);
  if (ok && skin.get<Channel::Coat>().holdsAny())
    ok = made(TextureKind::Coat, "coat", TextureRole::Data, 1, &Material::coat);
  if (ok && skin.get<Channel::Fuzz>().holdsAny())
    ok = made(TextureKind::Fuzz, "fuzz", TextureRole::Color, 3, &Material::fuzz);
  return ok;
}

Result<GltfMaps> gltfMaps(const HandOn& wish, const BakeGround& ground, const Progress& progress) {
  // (green goes up in glTF, whatever the maps beside it do)
  const MapInput input = ground.input(wish.normals, true);
  const auto packed =
      textureWishFrom("occlusion+roughness+metal", ground.document->surface->bounds.diagonal());
  if (!packed) return packed.error();
  auto color = texelMap(TextureKind::Colour, input, progress), surface = texelMap(*packed, input, progress),
       normal = texelMap(TextureKind::Normal, input, progress);
  for (const auto* map : {&color, &surface, &normal})
    if (!*map) return map->error();
  GltfMaps out{std::move(*color), std::make_unique<GltfSurface>(std::move(*surface)), std::move(*normal), {}};
  if (const Outcome ok = addSeldom(out.seldom, input, ground.skin, progress); !ok) return ok.error();
  return out;
}

// Bakes a tile's pictures and hangs them on its materials, from a given one on; `name`: what they are called.
Outcome bakeInto(TiledMaterials& out, size_t from, int tile, const std::string& name, const HandOn& wish,
                 const BakeGround& ground, const GltfMaps& maps, const Progress& progress) {
  std::vector<MapToBake> toBake{{maps.color.get(), TextureRole::Color, 3, MapDepth::Whole8},
                                {maps.surface.get(), TextureRole::Data, 3, MapDepth::Whole8},
                                {maps.normal.get(), TextureRole::Vector, 3, MapDepth::Whole8}};
  std::vector<std::string_view> names{"colour", "surface", "normal"};
  for (const GltfMaps::Seldom& m : maps.seldom) {
    toBake.push_back({m.map.get(), m.role, m.planes, MapDepth::Whole8});
    names.push_back(m.name);
  }
  const auto baked =
      bakeTile({tile, wish.pixels, wish.looks, wish.padding}, *ground.places, toBake, progress);
  if (!baked) return baked.error();
  const int first = static_cast<int>(out.set.pictures.size());
  for (size_t m = 0; m < toBake.size(); ++m) {
    auto bytes = encodeMap(MapFormat::Png, baked->maps[m], toBake[m].role);
    if (!bytes) return bytes.error();
    out.set.pictures.push_back({fmt::format("{}_{}.{}", name, names[m], tile), std::move(*bytes)});
  }
  for (size_t m = from; m < out.tiles.size(); ++m)
    if (out.tiles[m] == tile) {
      Material& material = out.set.materials[m];
      material.baseColor = first;
      material.metallicRoughness = material.occlusion = first + 1;
      material.normal = first + 2;
      for (size_t i = 0; i < maps.seldom.size(); ++i)
        material.*maps.seldom[i].shown = first + 3 + static_cast<int>(i);
    }
  return Done{};
}

Outcome bakeAll(TiledMaterials& out, size_t from, const std::string& name, const HandOn& wish,
                const BakeGround& ground, std::span<const int> tiles, const Progress& progress) {
  const auto maps = gltfMaps(wish, ground, progress);
  if (!maps) return maps.error();
  for (const int tile : tiles)
    if (const Outcome ok = bakeInto(out, from, tile, name, wish, ground, *maps, progress); !ok) return ok;
  return Done{};
}

// Another set of materials for each variant of the document, each baked as the skin is then.
Outcome addVariants(TiledMaterials& out, const HandOn& wish, const BakeGround& ground,
                    std::span<const int> tiles, const Progress& progress) {
  const size_t own = out.tiles.size();
  for (const Variant& variant : ground.document->variants) {
    const auto as = asVariant(*ground.document, variant.id);
    if (!as) return as.error();
    const auto there = bakeGround(*as, wish.by, true, progress);
    if (!there) return there.error();
    const size_t from = out.tiles.size();
    MaterialVariant version{variant.name, {}};
    for (size_t m = 0; m < own; ++m) {
      version.materials.push_back(static_cast<uint32_t>(out.tiles.size()));
      Material material;
      material.name = fmt::format("{} ({})", out.set.materials[m].name, variant.name);
      out.set.materials.push_back(std::move(material));
      out.set.tileOrigin.push_back(out.set.tileOrigin[m]);
      out.tiles.push_back(out.tiles[m]);
    }
    const std::string name = fmt::format("{} ({})", wish.name, variant.name);
    if (const Outcome ok = bakeAll(out, from, name, wish, **there, tiles, progress); !ok) return ok;
    out.set.variants.push_back(std::move(version));
  }
  return Done{};
}

// From the scene to the mesh's own axes.
Eigen::Matrix3f backTurn(const HandOn& wish, const BakeGround& ground) {
  return turnOf(wish.by.placement.value_or(ground.document->placement)).transpose();
}

VertexFinish ownNormals(const BakeGround& ground, const Eigen::Matrix3f& back) {
  VertexFinish out;
  for (const Vec3& n : ground.worn.normals) out.normals.push_back(back * n);
  return out;
}

void addSurroundings(const HandOn& wish, const Eigen::Matrix3f& back, MaterialSet& out) {
  out.cameras = wish.cameras;
  out.lamps = wish.lamps;
  Eigen::Matrix4f turn = Eigen::Matrix4f::Identity();
  turn.topLeftCorner<3, 3>() = back;
  for (HandedCamera& c : out.cameras) c.pose = turn * c.pose;
  for (HandedLamp& l : out.lamps) l.toward = back * l.toward;
}

Outcome writeGlbFile(const std::filesystem::path& file, const Sculpt& mesh, const HandOn& wish,
                     const BakeGround& ground, std::span<const int> tiles, bool manyTiles,
                     const Progress& progress) {
  TiledMaterials materials = materialsOf(mesh, manyTiles);
  Outcome baked = bakeAll(materials, 0, wish.name, wish, ground, tiles, progress);
  if (baked && wish.variants) baked = addVariants(materials, wish, ground, tiles, progress);
  if (!baked) return baked;
  const Eigen::Matrix3f back = backTurn(wish, ground);
  materials.set.tangents = ground.worn.tangents;
  for (auto& corners : materials.set.tangents)
    for (Tangent& t : corners) t.head<3>() = normalizedOr(back * Vec3(t.head<3>()), Vec3::UnitX());
  addSurroundings(wish, back, materials.set);
  VertexFinish finish = ownNormals(ground, back);
  if (!wish.by.mesh)
    for (const uint32_t s : ground.document->surface->sampleOfVertex)
      finish.colors.push_back(colorAt(ground.skin.color(), s));
  const auto bytes = writeTexturedGlb(mesh, finish, materials.set);
  if (!bytes) return Error{bytes.error().what, file.string()};
  return writeBytes(file, *bytes);
}

Outcome writeObjFiles(const std::filesystem::path& file, const Sculpt& mesh, const HandOn& wish,
                      const BakeGround& ground, std::span<const int> tiles, bool manyTiles) {
  TiledMaterials materials = materialsOf(mesh, manyTiles);
  const auto named = [&](TextureKind kind, int tile) {
    for (const WishedMap& m : wish.maps)
      if (m.map.kind == kind) {
        materials.set.pictures.push_back({mapFileName(wish, suffixOf(m.map), tile, manyTiles), {}});
        return static_cast<int>(materials.set.pictures.size()) - 1;
      }
    return -1;
  };
  for (size_t m = 0; m < materials.tiles.size() && !wish.layered; ++m) {
    const int tile = materials.tiles[m];
    if (std::ranges::find(tiles, tile) == tiles.end()) continue;
    Material& material = materials.set.materials[m];
    material.baseColor = named(TextureKind::Colour, tile);
    material.roughness = named(TextureKind::Roughness, tile);
    material.metal = named(TextureKind::Metal, tile);
    material.normal = named(TextureKind::Normal, tile);
    material.emission = named(TextureKind::Emission, tile);
  }
  const std::filesystem::path library = std::filesystem::path(file).replace_extension(".mtl");
  const Outcome first = writeBytes(library, writeMtl(materials.set));
  if (!first) return first;
  return writeBytes(file, writeTexturedObj(mesh, ownNormals(ground, backTurn(wish, ground)), materials.set,
                                           library.filename().string()));
}

}  // namespace

Outcome writeTexturedMesh(const std::filesystem::path& file, const HandOn& wish, const BakeGround& ground,
                          std::span<const int> tiles, bool manyTiles, const Progress& progress) {
  Sculpt mesh = withSetFirst(wish.by.mesh ? *wish.by.mesh : *ground.document->sculpt, wish.by.uvSet);
  // who wears it knows the parts of the file
  if (!wish.by.mesh) putFileParts(mesh, ground.document->parts);
  if (wish.meshFile == MeshFile::Obj) return writeObjFiles(file, mesh, wish, ground, tiles, manyTiles);
  return writeGlbFile(file, mesh, wish, ground, tiles, manyTiles, progress);
}

}  // namespace juvenor
