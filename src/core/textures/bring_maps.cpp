#include "core/textures/bring_maps.h"

#include <fmt/format.h>

#include <cmath>
#include <future>
#include <set>
#include <utility>

#include "core/document/edits/edits.h"
#include "core/files.h"
#include "core/json_fields.h"
#include "core/layers/sources/painted.h"
#include "core/parallel.h"
#include "core/textures/map_pyramid.h"
#include "core/textures/sample_places.h"
#include "core/textures/tangents.h"
#include "core/textures/told_samples.h"
#include "core/textures/uv_layout.h"

namespace juvenor {
namespace {

namespace fs = std::filesystem;

constexpr std::array<std::string_view, 11> kKeys{"colour", "gloss", "roughness", "metal", "glow", "height",
                                                 "normal", "mask",  "wander",    "coat",  "fuzz"};

std::optional<Channel> channelOf(BringAs as) {
  switch (as) {
    case BringAs::Colour:
      return Channel::Color;
    case BringAs::Gloss:
    case BringAs::Roughness:
      return Channel::Gloss;
    case BringAs::Metal:
      return Channel::Metal;
    case BringAs::Glow:
      return Channel::Glow;
    case BringAs::Height:
    case BringAs::Normal:
      return Channel::Relief;
    case BringAs::Wander:
      return Channel::Wander;
    case BringAs::Coat:
      return Channel::Coat;
    case BringAs::Fuzz:
      return Channel::Fuzz;
    case BringAs::Mask:
      break;
  }
  return std::nullopt;
}

Result<MapPyramid> pyramidOf(const BroughtMap& map, const MapSource& source) {
  std::string bytes = source.bytes;
  if (bytes.empty()) {
    auto read = readBytes(source.file);
    if (!read) return read.error();
    bytes = std::move(*read);
  }
  if (map.as == BringAs::Colour) {
    const auto picture = decodePicture(std::move(bytes), source.name);
    if (!picture) return picture.error();
    return MapPyramid(*picture);
  }
  auto raw = decodeRaw(std::move(bytes), source.name);
  if (!raw) return raw.error();
  const int needed = map.as == BringAs::Normal ? 3 : map.plane + 1;
  if (raw->planes < needed)
    return Error{fmt::format("holds {} values a pixel, {} are needed", raw->planes, needed), source.name};
  if (map.as == BringAs::Height && !raw->floats)
    for (float& v : raw->values) v = (2 * v - 1) * map.heightRange;
  return MapPyramid(std::move(*raw));
}

// How much of what a point covers it is told by: a skin is shown with its points mixed into each other once
// more, and would be softer with every turn through maps.
constexpr float kOwn = 0.4f;

struct Told : ToldSamples {
  using ToldSamples::ToldSamples;
  int pixels = 1;  // of the largest picture's edge
};

// The first picture of a map, unpacked on a core of its own while the places are looked for.
class FirstPicture {
 public:
  explicit FirstPicture(const BroughtMap& map)
      : work_(std::async(std::launch::async, [&map] { return pyramidOf(map, map.tiles.begin()->second); })) {}
  Result<MapPyramid> take() { return work_.get(); }

 private:
  std::future<Result<MapPyramid>> work_;
};

// `first`: of its first tile, where that is read already.
Result<Told> toldBy(const BroughtMap& map, const SamplePlaces& places, size_t samples,
                    std::optional<Result<MapPyramid>> first, const Progress& progress) {
  Told out(samples);
  float done = 0;
  for (const auto& [tile, source] : map.tiles) {
    if (!report(progress, done++ / static_cast<float>(map.tiles.size()))) return cancelledError();
    const auto pyramid = first ? *std::exchange(first, {}) : pyramidOf(map, source);
    if (!pyramid) return pyramid.error();
    out.pixels = std::max({out.pixels, pyramid->width(), pyramid->height()});
    const float texel = 1 / static_cast<float>(std::min(pyramid->width(), pyramid->height()));
    const Vec2 origin(static_cast<float>((tile - 1001) % 10), static_cast<float>((tile - 1001) / 10));
    parallel(samples, [&](size_t s) {
      for (uint32_t i = places.start[s]; i < places.start[s + 1]; ++i) {
        const SamplePlace& p = places.places[i];
        // (a rim may lie on the border of two tiles)
        const Vec2 asked = askedAt(p, texel);
        if (tileOf(asked) != tile) continue;
        const auto value = pyramid->at(asked - origin, kOwn * p.along, kOwn * p.across);
        for (size_t c = 0; c < 4; ++c) out.values[s][c] += value[c];
        ++out.places[s];
      }
    });
  }
  out.settle();
  return out;
}

class Bringing {
 public:
  Bringing(const Document& document, const SamplePlaces& places)
      : document_(document), places_(places), fields_(document.surface->size()) {}

  Outcome take(const BroughtMap& map, std::optional<Result<MapPyramid>> first, const Progress& progress) {
    if (map.plane < 0 || map.plane > 3)
      return Error{fmt::format("a picture has no value number {}", map.plane)};
    const auto told = toldBy(map, places_, document_.surface->size(), std::move(first), progress);
    if (!told) return told.error();
    pixels_ = std::max(pixels_, told->pixels);
    const auto plane = static_cast<size_t>(map.plane);
    const auto cover = [&](CoverField& field, bool turned = false) {
      put(field, *told, [&](size_t s) {
        const float v = std::clamp(told->values[s][plane], 0.f, 1.f);
        return std::array<uint16_t, 2>{to16(turned ? 1 - v : v), 65535};
      });
    };
    switch (map.as) {
      case BringAs::Colour:
        put(fields_.color(), *told, [&](size_t s) { return encodedColor(told->values[s]); });
        break;
      case BringAs::Gloss:
      case BringAs::Roughness:
        cover(fields_.get<Channel::Gloss>(), map.as == BringAs::Roughness);
        break;
      case BringAs::Metal:
        cover(fields_.get<Channel::Metal>());
        break;
      case BringAs::Glow:
        cover(fields_.get<Channel::Glow>());
        break;
      case BringAs::Wander:
        cover(fields_.get<Channel::Wander>());
        break;
      case BringAs::Coat:
        cover(fields_.get<Channel::Coat>());
        break;
      case BringAs::Fuzz:
        cover(fields_.get<Channel::Fuzz>());
        break;
      case BringAs::Height:
        put(fields_.get<Channel::Relief>(), *told, [&](size_t s) {
          return std::array<uint16_t, 1>{
              height16(told->values[s][plane] / document_.placement.millimetres, document_.reliefStep)};
        });
        break;
      case BringAs::Normal:
        takeNormals(*told, map.greenUp);
        break;
      case BringAs::Mask:
        mask_ = openMask(document_.surface->size());
        put(*mask_, *told, [&](size_t s) {
          return std::array<uint16_t, 1>{to16(std::clamp(told->values[s][plane], 0.f, 1.f))};
        });
        break;
    }
    for (size_t s = 0; s < told->places.size(); ++s)
      bare_ += told->places[s] == 0 && map.as == BringAs::Colour;
    return Done{};
  }
  ChannelFields fields() && { return std::move(fields_); }
  std::optional<ScalarField> mask() && { return std::move(mask_); }
  size_t bare() const { return bare_; }
  int pixels() const { return pixels_; }

 private:
  void takeNormals(const Told& told, bool greenUp) {
    const Surface& surface = *document_.surface;
    std::vector<Vec3> slopes(surface.size(), Vec3::Zero());
    parallel(slopes.size(), [&](size_t s) {
      if (told.places[s] == 0) return;
      const SamplePlace& place = places_.places[places_.start[s]];
      const auto& v = told.values[s];
      slopes[s] =
          slopeOf(surface.normals[s], place.tangent, {v[0], v[1], v[2]}, greenUp).value_or(Vec3::Zero());
    });
    const std::vector<float> heights = heightsOfSlopes(surface, *document_.maps->ladder(), slopes);
    put(fields_.get<Channel::Relief>(), told,
        [&](size_t s) { return std::array<uint16_t, 1>{height16(heights[s], document_.reliefStep)}; });
  }

  const Document& document_;
  const SamplePlaces& places_;
  ChannelFields fields_;
  std::optional<ScalarField> mask_;
  size_t bare_ = 0;
  int pixels_ = 1;
};

Outcome checked(const Document& document, size_t uvSet, const std::vector<BroughtMap>& maps) {
  if (document.sculpt->uvSets.empty()) return Error{"has no UVs", document.sculpt->name};
  if (uvSet >= document.sculpt->uvSets.size())
    return Error{fmt::format("has no UV set number {}", uvSet + 1), document.sculpt->name};
  if (maps.empty()) return Error{"no map is chosen"};
  std::set<Channel> channels;
  for (const BroughtMap& m : maps) {
    if (m.tiles.empty()) return Error{"a map has no picture"};
    const auto channel = channelOf(m.as);
    if (channel && !channels.insert(*channel).second)
      return Error{fmt::format("two maps would fill the {} of one layer", factsOf(*channel).label)};
  }
  return Done{};
}

}  // namespace

std::optional<Vec3> slopeOf(const Vec3& up, const Tangent& tangent, const Vec3& texel, bool greenUp) {
  const Vec3 n(2 * texel[0] - 1, (greenUp ? 1.f : -1.f) * (2 * texel[1] - 1), 2 * texel[2] - 1);
  if (!(n.z() > 0.02f)) return std::nullopt;
  const Vec3 along = normalizedOr(tangent.head<3>() - up.dot(tangent.head<3>()) * up, Vec3::Zero());
  return Vec3(-(n.x() * along + n.y() * tangent.w() * up.cross(along)) / n.z());
}

std::string_view bringAsKey(BringAs as) {
  return kKeys[static_cast<size_t>(as)];
}

std::optional<BringAs> bringAsFromKey(std::string_view key) {
  const auto found = std::ranges::find(kKeys, key);
  if (found == kKeys.end()) return std::nullopt;
  return static_cast<BringAs>(found - kKeys.begin());
}

BringAs bringAsByName(std::string_view fileName) {
  std::string name;
  for (const char c : fileName) name += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  constexpr std::pair<std::string_view, BringAs> kWords[] = {
      {"normal", BringAs::Normal},   {"_nrm", BringAs::Normal},   {"_nor", BringAs::Normal},
      {"rough", BringAs::Roughness}, {"gloss", BringAs::Gloss},   {"metal", BringAs::Metal},
      {"glow", BringAs::Glow},       {"height", BringAs::Height}, {"displ", BringAs::Height},
      {"bump", BringAs::Height},     {"relief", BringAs::Height}, {"mask", BringAs::Mask},
      {"alpha", BringAs::Mask},      {"wander", BringAs::Wander}, {"coat", BringAs::Coat},
      {"fuzz", BringAs::Fuzz},       {"sheen", BringAs::Fuzz}};
  // what stands last counts: a skin may be called Rough
  BringAs out = BringAs::Colour;
  size_t last = 0;
  for (const auto& [word, as] : kWords) {
    const size_t at = name.rfind(word);
    if (at == std::string::npos || at + 1 <= last) continue;
    last = at + 1;
    out = as;
  }
  constexpr std::string_view kColors[] = {"colour", "color", "albedo", "diffuse", "basecol"};
  for (const std::string_view word : kColors) {
    const size_t at = name.rfind(word);
    if (at != std::string::npos && at + 1 > last) out = BringAs::Colour;
  }
  return out;
}

namespace {

// The number of a tile in a file's name: four digits between dots before its ending.
std::optional<int> tileInName(const std::string& stem) {
  if (stem.size() < 6 || stem[stem.size() - 5] != '.') return std::nullopt;
  int number = 0;
  for (size_t i = stem.size() - 4; i < stem.size(); ++i) {
    if (stem[i] < '0' || stem[i] > '9') return std::nullopt;
    number = 10 * number + (stem[i] - '0');
  }
  return number >= 1001 ? std::optional(number) : std::nullopt;
}

}  // namespace

std::map<int, MapSource> tilesBeside(const fs::path& file) {
  const auto source = [](const fs::path& f) { return MapSource{f.string(), {}, f}; };
  const std::string stem = file.stem().string();
  if (!tileInName(stem)) return {{1001, source(file)}};
  std::map<int, MapSource> out;
  std::error_code ec;
  const fs::path folder = file.has_parent_path() ? file.parent_path() : fs::path(".");
  for (const auto& entry : fs::directory_iterator(folder, ec)) {
    const std::string other = entry.path().stem().string();
    const auto tile = tileInName(other);
    if (tile && entry.path().extension() == file.extension() && other.size() == stem.size() &&
        other.compare(0, other.size() - 4, stem, 0, stem.size() - 4) == 0)
      out.emplace(*tile, source(entry.path()));
  }
  return out;
}

std::optional<float> heightRangeBeside(const fs::path& file) {
  const std::string name = file.filename().string();
  const size_t suffix = name.find("_height");
  if (suffix == std::string::npos) return std::nullopt;
  const auto bytes = readBytes(file.parent_path() / (name.substr(0, suffix) + "_maps.json"));
  if (!bytes) return std::nullopt;
  const nlohmann::json told = parsedOrNull(*bytes);
  if (!told.is_object() || !told.contains("maps") || !told["maps"].is_array()) return std::nullopt;
  for (const nlohmann::json& map : told["maps"])
    if (map.is_object() && map.value("map", "") == "height" && map.contains("range mm") &&
        map["range mm"].is_array() && map["range mm"].size() == 2 && map["range mm"][1].is_number())
      return map["range mm"][1].get<float>();
  return std::nullopt;
}

Result<Brought> withMaps(const Document& document, size_t uvSet, const std::vector<BroughtMap>& maps,
                         const std::string& name, const Progress& progress) {
  if (const Outcome sound = checked(document, uvSet, maps); !sound) return sound.error();
  FirstPicture first(maps[0]);
  const auto layout = skinLayout(document, [&](float f) { return report(progress, 0.2f * f); });
  if (!layout) return layout.error();
  WornMesh worn = wornSculpt(document, uvSet);
  const bool normals = std::ranges::any_of(maps, [](const BroughtMap& m) { return m.as == BringAs::Normal; });
  if (normals) worn.tangents = tangentsOf(worn);
  const SamplePlaces places = samplePlaces(*document.surface, worn, *layout);
  Bringing bringing(document, places);
  for (size_t m = 0; m < maps.size(); ++m) {
    const auto part = [&](float f) {
      return report(progress, 0.2f + 0.8f * (static_cast<float>(m) + f) / static_cast<float>(maps.size()));
    };
    std::optional<Result<MapPyramid>> read;
    if (m == 0) read = first.take();
    if (const Outcome ok = bringing.take(maps[m], std::move(read), part); !ok) return ok.error();
  }
  Brought out;
  out.bare = bringing.bare();
  std::vector<float> widths;
  for (const SamplePlace& p : places.places)
    widths.push_back(p.width * static_cast<float>(bringing.pixels()));
  if (!widths.empty()) {
    const auto middle = widths.begin() + static_cast<std::ptrdiff_t>(widths.size() / 2);
    std::nth_element(widths.begin(), middle, widths.end());
    out.texelsAPoint = *middle;
    out.texelSpacing = document.surface->spacing / std::max(1e-6f, *middle);
  }
  std::optional<ScalarField> mask = std::move(bringing).mask();
  out.document =
      withSourceLayer(document, name, Stratum::Surface, paintedSource(std::move(bringing).fields()));
  if (mask) {
    const size_t at = placeOf(out.document, out.document.activeLayer);
    auto layer = std::make_shared<Layer>(*out.document.layers[at]);
    layer->mask = std::move(mask);
    out.document.layers[at] = std::move(layer);
  }
  return out;
}

}  // namespace juvenor
