#include "core/textures/hand_on.h"

#include <fmt/format.h>

#include <atomic>
#include <set>

#include "core/files.h"
#include "core/json_fields.h"
#include "core/textures/textured_mesh.h"

namespace juvenor {
namespace {

namespace fs = std::filesystem;
using nlohmann::json;

// Pictures held at a time beside the document.
constexpr size_t kHeldBytes = size_t{1} << 30;

bool asksFor(const std::vector<TextureWish>& wishes, TextureKind kind) {
  return std::ranges::any_of(wishes,
                             [&](const TextureWish& w) { return w.kind == kind || asksFor(w.packed, kind); });
}

std::vector<TextureWish> wishesOf(const HandOn& wish) {
  std::vector<TextureWish> out;
  for (const WishedMap& m : wish.maps) out.push_back(m.map);
  return out;
}

Outcome checked(const Document& document, const HandOn& wish) {
  if (wish.maps.empty()) return Error{"no map is chosen"};
  if (wish.name.empty()) return Error{"the maps need a name"};
  if (wish.pixels < kLeastPixels || wish.pixels > kMostPixels)
    return Error{
        fmt::format("{} pixels a side: it must be {} to {}", wish.pixels, kLeastPixels, kMostPixels)};
  if (wish.looks < 1 || wish.looks > kMostLooks)
    return Error{fmt::format("{} looks a texel: it must be 1 to {}", wish.looks, kMostLooks)};
  const Sculpt& worn = wish.by.mesh ? *wish.by.mesh : *document.sculpt;
  if (worn.uvSets.empty()) return Error{"has no UVs", worn.name};
  if (wish.by.uvSet >= worn.uvSets.size())
    return Error{fmt::format("has no UV set number {}", wish.by.uvSet + 1), worn.name};
  std::set<std::string> names;
  for (const WishedMap& m : wish.maps) {
    if (!canKeep(wish.format, m.depth))
      return Error{fmt::format("{} files cannot keep {} as {}", endingOf(wish.format), suffixOf(m.map),
                               depthKey(m.depth))};
    if (!names.insert(suffixOf(m.map)).second)
      return Error{fmt::format("two maps would be called {}", suffixOf(m.map))};
  }
  if (wish.layered && wish.format != MapFormat::Exr) return Error{"only EXR files hold several maps"};
  if (!wish.by.mesh && asksFor(wishesOf(wish), TextureKind::Found))
    return Error{"what rays found can only be told of another mesh"};
  return Done{};
}

std::string_view encodingOf(const WishedMap& m) {
  const bool whole = m.depth == MapDepth::Whole8 || m.depth == MapDepth::Whole16;
  switch (roleOf(m.map)) {
    case TextureRole::Color:
    case TextureRole::Id:
      return whole ? "sRGB" : "linear";
    case TextureRole::Height:
      return whole ? "0.5 is level, 0 and 1 are the ends of the range" : "millimetres";
    case TextureRole::Vector:
      return "-1...1 as 0...1, tangent space (MikkTSpace)";
    default:
      return "0...1";
  }
}

// What one must know of the maps to use them.
json describe(const Document& document, const HandOn& wish, const BakeGround& ground, const HandedOn& out) {
  json maps = json::array();
  for (const WishedMap& m : wish.maps) {
    json j{{"map", textOf(m.map)},
           {"suffix", suffixOf(m.map)},
           {"depth", depthKey(m.depth)},
           {"values", planesOf(m.map)},
           {"encoding", encodingOf(m)}};
    if (roleOf(m.map) == TextureRole::Height) j["range mm"] = {-ground.heightRange, ground.heightRange};
    if (roleOf(m.map) == TextureRole::Vector) {
      j["green"] = wish.greenUp ? "up" : "down";
      j["from"] = wish.normals == NormalsFrom::Relief ? "relief" : "everything finer than the mesh";
    }
    if (m.map.kind == TextureKind::Measured) j["measure"] = toJson(m.map.measure);
    if (m.map.kind == TextureKind::Parts)
      for (uint32_t p = 0; p < document.sculpt->parts.size(); ++p)
        j["parts"][document.sculpt->parts[p]] = toHex(colorOfPart(p));
    maps.push_back(std::move(j));
  }
  json files = json::array();
  for (const fs::path& f : out.files) files.push_back(f.filename().string());
  const Sculpt& worn = wish.by.mesh ? *wish.by.mesh : *document.sculpt;
  json j{{"program", "Juvenor"},
         {"name", wish.name},
         {"mesh", worn.name},
         {"uv set", worn.uvSets[wish.by.uvSet].name},
         {"pixels", wish.pixels},
         {"tiles", out.tiles},
         {"millimetres in a scene unit", document.placement.millimetres},
         {"maps", maps},
         {"files", files}};
  if (wish.padding == kPadAll)
    j["padding"] = "all";
  else
    j["padding"] = wish.padding;
  if (wish.by.mesh)
    j["rays"] = {{"reach mm", out.reach * document.placement.millimetres},
                 {"texels without skin", out.missed},
                 {"texels", out.covered}};
  return j;
}

class Job {
 public:
  Job(const HandOn& wish, const BakeGround& ground, bool manyTiles)
      : wish_(wish),
        ground_(ground),
        manyTiles_(manyTiles),
        input_(ground.input(wish.normals, wish.greenUp)) {}

  std::vector<fs::path> filesOf(int tile) const {
    std::vector<fs::path> out;
    if (wish_.layered) return {wish_.folder / mapFileName(wish_, "maps", tile, manyTiles_)};
    for (const WishedMap& m : wish_.maps)
      out.push_back(wish_.folder / mapFileName(wish_, suffixOf(m.map), tile, manyTiles_));
    return out;
  }

  /// Maps are made when they are first wanted, and as many are baked at a time as memory holds.
  Outcome bake(int tile, HandedOn& out, const Progress& progress) {
    const std::vector<fs::path> files = filesOf(tile);
    for (size_t first = 0; first < wish_.maps.size();) {
      const size_t end = wish_.layered ? wish_.maps.size() : endOfGroup(first);
      const auto part = [&](float f) {
        const auto n = static_cast<float>(wish_.maps.size());
        return report(progress, (static_cast<float>(first) + f * static_cast<float>(end - first)) / n);
      };
      std::vector<TexelMapPointer> maps;
      std::vector<MapToBake> toBake;
      for (size_t m = first; m < end; ++m) {
        auto map = texelMap(wish_.maps[m].map, input_, [&](float) { return part(0); });
        if (!map) return map.error();
        maps.push_back(std::move(*map));
        toBake.push_back(toBakeOf(m, maps.back().get()));
      }
      const auto baked = bakeTile({tile, wish_.pixels, wish_.looks, wish_.padding}, *ground_.places, toBake,
                                  [&](float f) { return part(0.7f * f); });
      if (!baked) return baked.error();
      // what has no area covers nothing: such a tile has no files
      if (baked->covered == 0) return Done{};
      if (first == 0) {
        out.covered += baked->covered;
        out.missed += baked->missed;
      }
      if (const Outcome ok = write(*baked, first, files, part); !ok) return ok;
      first = end;
    }
    out.files.insert(out.files.end(), files.begin(), files.end());
    return Done{};
  }

 private:
  MapToBake toBakeOf(size_t m, const TexelMap* map) const {
    const WishedMap& w = wish_.maps[m];
    return {map, roleOf(w.map), planesOf(w.map), w.depth, ground_.heightRange};
  }
  size_t endOfGroup(size_t first) const {
    size_t bytes = 0, end = first;
    while (end < wish_.maps.size()) {
      bytes += bytesOf(toBakeOf(end, nullptr), wish_.pixels);
      if (end > first && bytes > kHeldBytes) break;
      ++end;
    }
    return end;
  }
  // Pictures pack side by side, each in one thread of the library.
  Outcome write(const BakedTile& baked, size_t first, const std::vector<fs::path>& files,
                const Progress& progress) const {
    if (wish_.layered) {
      std::vector<NamedMap> named;
      for (size_t m = 0; m < baked.maps.size(); ++m)
        named.push_back({suffixOf(wish_.maps[m].map), &baked.maps[m], roleOf(wish_.maps[m].map)});
      return writeLayeredExr(files.front(), named);
    }
    std::vector<Outcome> done(baked.maps.size(), Outcome(Done{}));
    std::atomic<size_t> written = 0;
    std::atomic<bool> stopped = false;
    parallel(
        done.size(),
        [&](size_t m) {
          if (stopped) return;
          done[m] = caught([&] {
            return writeMap(files[first + m], wish_.format, baked.maps[m], roleOf(wish_.maps[first + m].map));
          });
          const auto part = static_cast<float>(++written) / static_cast<float>(done.size());
          if (!report(progress, 0.7f + 0.3f * part)) stopped = true;
        },
        1);
    for (const Outcome& o : done)
      if (!o) return o;
    if (stopped) return cancelledError();
    return Done{};
  }

  const HandOn& wish_;
  const BakeGround& ground_;
  bool manyTiles_;
  MapInput input_;
};

// Of some tiles only: commands that bake others beside it have theirs.
std::string descriptionName(const HandOn& wish, bool someTiles) {
  std::string out = wish.name + "_maps";
  for (size_t t = 0; someTiles && t < wish.tiles.size(); ++t)
    out += fmt::format("{}{}", t == 0 ? "." : "-", wish.tiles[t]);
  return out + ".json";
}

std::vector<fs::path> meshFilesOf(const HandOn& wish) {
  if (wish.meshFile == MeshFile::None) return {};
  if (wish.meshFile == MeshFile::Glb) return {wish.folder / (wish.name + ".glb")};
  return {wish.folder / (wish.name + ".obj"), wish.folder / (wish.name + ".mtl")};
}

// The error names the first file that is there already.
Outcome nothingThere(const Job& job, const std::vector<int>& tiles, std::vector<fs::path> files,
                     const fs::path& description) {
  for (const int tile : tiles) {
    const std::vector<fs::path> own = job.filesOf(tile);
    files.insert(files.end(), own.begin(), own.end());
  }
  std::error_code ec;
  for (const fs::path& f : files)
    if (fs::exists(f, ec)) return Error{"is there already", f.string()};
  // (the description of an earlier bake is this program's own)
  if (fs::exists(description, ec)) {
    const auto bytes = readBytes(description);
    if (!bytes || bytes->find("\"program\": \"Juvenor\"") == std::string::npos)
      return Error{"is there already", description.string()};
  }
  return Done{};
}

}  // namespace

std::string mapFileName(const HandOn& wish, const std::string& suffix, int tile, bool manyTiles) {
  const std::string number = manyTiles || tile != 1001 ? fmt::format(".{}", tile) : std::string();
  return fmt::format("{}_{}{}.{}", wish.name, suffix, number, endingOf(wish.format));
}

Result<HandedOn> handOn(const Document& document, const HandOn& wish, const Progress& progress) {
  if (const Outcome sound = checked(document, wish); !sound) return sound.error();
  const bool tangents = wish.meshFile == MeshFile::Glb || asksFor(wishesOf(wish), TextureKind::Normal);
  const auto ground =
      bakeGround(document, wish.by, tangents, [&](float f) { return report(progress, 0.1f * f); });
  if (!ground) return ground.error();
  HandedOn out;
  out.reach = (*ground)->reach;
  const std::vector<int> there = (*ground)->places->tiles();
  if (there.empty()) return Error{"no triangle lies in any tile"};
  out.tiles = wish.tiles.empty() ? there : wish.tiles;
  for (const int tile : out.tiles)
    if (std::ranges::find(there, tile) == there.end())
      return Error{fmt::format("nothing lies in tile {}", tile)};
  Job job(wish, **ground, there.size() > 1);
  const std::vector<fs::path> meshFiles = meshFilesOf(wish);
  const fs::path description = wish.folder / descriptionName(wish, out.tiles.size() < there.size());
  if (const Outcome free =
          wish.force ? Outcome(Done{}) : nothingThere(job, out.tiles, meshFiles, description);
      !free)
    return free.error();
  std::error_code ec;
  fs::create_directories(wish.folder, ec);
  if (ec) return Error{"cannot be made (" + ec.message() + ")", wish.folder.string()};
  const float steps = static_cast<float>(out.tiles.size() + (meshFiles.empty() ? 0 : 1));
  float step = 0;
  const Progress part = [&](float f) { return report(progress, 0.1f + 0.9f * (step + f) / steps); };
  for (const int tile : out.tiles) {
    if (const Outcome ok = job.bake(tile, out, part); !ok) return ok.error();
    ++step;
  }
  const Sculpt& worn = wish.by.mesh ? *wish.by.mesh : *document.sculpt;
  if (out.covered == 0) return Error{"its UVs cover no pixel: they have no area to speak of", worn.name};
  if (out.covered == out.missed) return Error{"its rays found no skin anywhere", worn.name};
  if (!meshFiles.empty()) {
    const Outcome ok =
        writeTexturedMesh(meshFiles.front(), wish, **ground, out.tiles, there.size() > 1, part);
    if (!ok) return ok.error();
    out.files.insert(out.files.end(), meshFiles.begin(), meshFiles.end());
  }
  const Outcome told =
      writeBytes(description, juvenor::textOf(describe(document, wish, **ground, out), 2) + "\n");
  if (!told) return told.error();
  out.files.push_back(description);
  return out;
}

}  // namespace juvenor
