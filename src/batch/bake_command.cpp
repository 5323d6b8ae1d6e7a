// Texture maps of a document from the shell. Tiles do not know of each other: a list of them can be spread
// over many machines by whatever spreads commands there.
#include <fmt/format.h>

#include <iostream>

#include "batch/bake_command.h"
#include "batch/commands.h"
#include "batch/listed.h"
#include "batch/uv_set.h"
#include "batch/work.h"
#include "core/sculpt/formats.h"
#include "core/textures/hand_on.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

Outcome readMaps(const BakeCommand& said, float diagonal, HandOn& wish) {
  const auto format = mapFormatFrom(said.format);
  if (!format)
    return Error{fmt::format("--format: there is no '{}'; there are png, tif and exr", said.format)};
  wish.format = *format;
  std::optional<MapDepth> depth;
  if (!said.depth.empty()) {
    depth = depthFromKey(said.depth);
    if (!depth)
      return Error{fmt::format("--depth: there is no '{}'; there are 8, 16, half and float", said.depth)};
  }
  for (const std::string& text : listed(said.maps)) {
    auto map = textureWishFrom(text, diagonal);
    if (!map) return Error{"--maps: " + map.error().what};
    wish.maps.push_back({*map, depth.value_or(usualDepth(*format, *map))});
  }
  return Done{};
}

Outcome readNumbers(const BakeCommand& said, HandOn& wish) {
  for (const std::string& text : listed(said.tiles)) {
    const auto tile = wholeNumber(text, "--tiles");
    if (!tile) return tile.error();
    if (*tile < 1001 || *tile > 9999) return Error{fmt::format("--tiles: {} is not in 1001 … 9999", *tile)};
    wish.tiles.push_back(static_cast<int>(*tile));
  }
  if (said.padding == "all") {
    wish.padding = kPadAll;
  } else {
    const auto padding = wholeNumber(said.padding, "--padding");
    if (!padding) return padding.error();
    wish.padding = std::min<uint32_t>(*padding, kMostPixels);
  }
  if (said.normals != "everything" && said.normals != "relief")
    return Error{fmt::format("--normals: there is no '{}'; there are everything and relief", said.normals)};
  wish.normals = said.normals == "relief" ? NormalsFrom::Relief : NormalsFrom::Everything;
  return Done{};
}

Outcome readMesh(const BakeCommand& said, const Document& document, HandOn& wish) {
  if (said.mesh.empty()) {
    const auto set = setOf(*document.sculpt, said.set);
    if (!set) return Error{set.error().what, said.document.string()};
    wish.by.uvSet = *set;
    return Done{};
  }
  auto mesh = readSculpt(said.mesh);
  if (!mesh) return mesh.error();
  wish.by.mesh = std::make_shared<const Sculpt>(std::move(*mesh));
  const auto set = setOf(*wish.by.mesh, said.set);
  if (!set) return Error{set.error().what, said.mesh.string()};
  wish.by.uvSet = *set;
  const auto placement = placementFrom(said.meshStands, document.placement, *document.surface);
  if (!placement) return placement.error();
  wish.by.placement = *placement;
  if (said.reach) wish.by.reach = *said.reach / document.placement.millimetres;
  return Done{};
}

}  // namespace

Outcome bake(const BakeCommand& said) {
  const auto document = documentIn(said.document);
  if (!document) return document.error();
  HandOn wish;
  wish.folder = said.folder;
  wish.name = said.name.empty() ? said.document.stem().string() : said.name;
  wish.pixels = said.size;
  wish.looks = said.samples;
  wish.greenUp = !said.greenDown;
  wish.layered = said.layered;
  wish.variants = said.variants;
  wish.force = said.force;
  if (!said.meshFile.empty()) wish.meshFile = said.meshFile == "glb" ? MeshFile::Glb : MeshFile::Obj;
  if (const Outcome ok = readMaps(said, document->surface->bounds.diagonal(), wish); !ok) return ok;
  if (const Outcome ok = readNumbers(said, wish); !ok) return ok;
  if (const Outcome ok = readMesh(said, *document, wish); !ok) return ok;
  const auto done = handOn(*document, wish);
  if (!done) return done.error();
  json files = json::array();
  for (const fs::path& f : done->files) files.push_back(f.string());
  json out{{"files", files}, {"tiles", done->tiles}};
  if (wish.by.mesh) {
    out["reach mm"] = done->reach * document->placement.millimetres;
    out["texels"] = done->covered;
    out["texels without skin"] = done->missed;
  }
  std::cout << textOf(out, 2) << "\n";
  return Done{};
}

CLI::App* addBake(CLI::App& app, BakeCommand& said, const std::function<void(CLI::App*)>& forces) {
  auto* bake =
      app.add_subcommand("bake", "Writes texture maps of a document, for its sculpt or another mesh");
  bake->add_option("DOC", said.document, "The document")->required();
  bake->add_option("-o,--out", said.folder, "The folder they go into")->required();
  bake->add_option(
      "--maps", said.maps,
      "With commas between: colour, roughness, gloss, metal, height, normal, parts, melanin, blood, "
      "any surface map, layer:NUMBER, mask:NUMBER; a+b packs up to four into one picture");
  bake->add_option("--name", said.name,
                   "What the files are called before _colour.1001.png; else as the document");
  bake->add_option("--size", said.size, "Pixels of a tile's edge")
      ->check(CLI::Range(kLeastPixels, kMostPixels));
  bake->add_option("--samples", said.samples, "Places looked at in each texel")
      ->check(CLI::Range(1, kMostLooks));
  bake->add_option("--tiles", said.tiles, "With commas between: 1001,1002; else all");
  bake->add_option("--format", said.format, "png, tif or exr");
  bake->add_option("--depth", said.depth, "8, 16, half or float for all; else what suits each map");
  bake->add_option("--padding", said.padding, "Texels filled around the islands, or all");
  bake->add_option("--for", said.mesh, "Another mesh with UVs that wears the maps: OBJ, PLY, GLB or glTF");
  bake->add_option("--mesh-up", said.meshStands.up,
                   "Which of that mesh's axes is up; else as the sculpt stands");
  bake->add_option("--mesh-front", said.meshStands.front, "Which of them faces the viewer");
  bake->add_option("--mesh-unit", said.meshStands.unit, "What a unit of it is: mm, cm, m or inch");
  bake->add_option("--reach", said.reach, "How far its rays look for the skin each way, mm; else measured");
  bake->add_option("--mesh", said.meshFile,
                   "The mesh along with its maps: glb with materials, or obj with an mtl")
      ->check(CLI::IsMember({"glb", "obj"}));
  bake->add_option("--set", said.set, "The UV set; else the first");
  bake->add_option("--normals", said.normals, "everything finer than the mesh, or relief alone");
  bake->add_flag("--green-down", said.greenDown, "Normal maps whose green goes down");
  bake->add_flag("--variants", said.variants,
                 "The GLB has materials for each of the document's variants (KHR_materials_variants)");
  bake->add_flag("--layered", said.layered, "EXR: one file a tile with all maps in it");
  forces(bake);
  return bake;
}

}  // namespace juvenor::batch
