#include "core/textures/write_maps.h"

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <fmt/format.h>

#include "core/files.h"

namespace juvenor {
namespace {

constexpr std::array<std::string_view, 3> kEndings{"png", "tif", "exr"};
constexpr std::array<std::string_view, 4> kDepths{"8", "16", "half", "float"};

OIIO::TypeDesc typeOf(MapDepth depth) {
  switch (depth) {
    case MapDepth::Whole8:
      return OIIO::TypeDesc::UINT8;
    case MapDepth::Whole16:
      return OIIO::TypeDesc::UINT16;
    case MapDepth::Half:
      return OIIO::TypeDesc::HALF;
    default:
      return OIIO::TypeDesc::FLOAT;
  }
}

// What the values are in memory.
OIIO::TypeDesc heldAs(const MapPicture& picture) {
  return picture.depth == MapDepth::Half ? OIIO::TypeDesc(OIIO::TypeDesc::FLOAT) : typeOf(picture.depth);
}
const void* dataOf(const MapPicture& picture) {
  return std::visit([](const auto& v) { return static_cast<const void*>(v.data()); }, picture.values);
}

bool isWhole(MapDepth depth) {
  return depth == MapDepth::Whole8 || depth == MapDepth::Whole16;
}

std::string_view colorSpaceOf(TextureRole role, MapDepth depth) {
  const bool color = role == TextureRole::Color || role == TextureRole::Id;
  return !color ? "Raw" : isWhole(depth) ? "sRGB" : "Linear";
}

Outcome notWritten(const OIIO::ImageOutput& out, const std::string& name) {
  return Error{"was not written (" + out.geterror() + ")", name};
}

// Rows a few at a time, so that the library needs no second copy of a large picture.
Outcome putRows(OIIO::ImageOutput& out, const MapPicture& picture, const std::string& name) {
  constexpr int kRows = 256;
  const OIIO::TypeDesc held = heldAs(picture);
  const size_t row = static_cast<size_t>(picture.pixels) * static_cast<size_t>(picture.planes) * held.size();
  const auto* data = static_cast<const std::byte*>(dataOf(picture));
  for (int y = 0; y < picture.pixels; y += kRows)
    if (!out.write_scanlines(y, std::min(picture.pixels, y + kRows), 0, held,
                             data + static_cast<size_t>(y) * row))
      return notWritten(out, name);
  return Done{};
}

std::string nameOf(MapFormat format) {
  return fmt::format("map.{}", kEndings[static_cast<size_t>(format)]);
}

Outcome put(OIIO::ImageOutput& out, const std::string& name, const MapPicture& picture, TextureRole role,
            const std::string& told) {
  OIIO::ImageSpec spec(picture.pixels, picture.pixels, picture.planes, typeOf(picture.depth));
  spec.attribute("oiio:ColorSpace", std::string(colorSpaceOf(role, picture.depth)));
  // straight values go into the file as they are
  if (picture.planes == 4) spec.attribute("oiio:UnassociatedAlpha", 1);
  if (picture.planes == 4 && role == TextureRole::Data) spec.alpha_channel = -1;
  spec.attribute("Software", "Juvenor");
  if (!out.open(name, spec)) return notWritten(out, told);
  if (const Outcome rows = putRows(out, picture, told); !rows) return rows;
  if (!out.close()) return notWritten(out, told);
  return Done{};
}

}  // namespace

std::string_view endingOf(MapFormat format) {
  return kEndings[static_cast<size_t>(format)];
}

std::optional<MapFormat> mapFormatFrom(std::string_view ending) {
  if (ending == "tiff") return MapFormat::Tiff;
  const auto found = std::ranges::find(kEndings, ending);
  if (found == kEndings.end()) return std::nullopt;
  return static_cast<MapFormat>(found - kEndings.begin());
}

bool canKeep(MapFormat format, MapDepth depth) {
  switch (format) {
    case MapFormat::Png:
      return isWhole(depth);
    case MapFormat::Tiff:
      return depth != MapDepth::Half;
    default:
      return !isWhole(depth);
  }
}

MapDepth usualDepth(MapFormat format, const TextureWish& wish) {
  const bool deep = factsOf(wish.kind).deep;
  if (format == MapFormat::Exr) return deep ? MapDepth::Float : MapDepth::Half;
  return deep ? MapDepth::Whole16 : MapDepth::Whole8;
}

std::string_view depthKey(MapDepth depth) {
  return kDepths[static_cast<size_t>(depth)];
}

std::optional<MapDepth> depthFromKey(std::string_view key) {
  const auto found = std::ranges::find(kDepths, key);
  if (found == kDepths.end()) return std::nullopt;
  return static_cast<MapDepth>(found - kDepths.begin());
}

Outcome writeMap(const std::filesystem::path& file, MapFormat format, const MapPicture& picture,
                 TextureRole role) {
  const auto out = OIIO::ImageOutput::create(nameOf(format));
  if (!out) return Error{"this machine writes no such pictures", file.string()};
  return replacedWhole(file, [&](const std::filesystem::path& partial) {
    return put(*out, partial.string(), picture, role, file.string());
  });
}

Result<std::string> encodeMap(MapFormat format, const MapPicture& picture, TextureRole role) {
  std::vector<unsigned char> bytes;
  OIIO::Filesystem::IOVecOutput into(bytes);
  const auto out = OIIO::ImageOutput::create(nameOf(format), &into);
  if (!out) return Error{"this machine writes no such pictures"};
  if (const Outcome done = put(*out, nameOf(format), picture, role, nameOf(format)); !done)
    return done.error();
  return std::string(bytes.begin(), bytes.end());
}

Outcome writeLayeredExr(const std::filesystem::path& file, std::span<const NamedMap> maps) {
  if (maps.empty()) return Error{"holds no map", file.string()};
  const auto out = OIIO::ImageOutput::create("map.exr");
  if (!out) return Error{"this machine writes no EXR pictures", file.string()};
  const int pixels = maps.front().picture->pixels;
  OIIO::ImageSpec spec(pixels, pixels, 0, OIIO::TypeDesc::FLOAT);
  for (const NamedMap& map : maps) {
    constexpr std::array<std::string_view, 4> kLetters{"R", "G", "B", "A"};
    for (int c = 0; c < map.picture->planes; ++c) {
      spec.channelnames.push_back(
          map.name + "." + std::string(map.picture->planes == 1 ? "Y" : kLetters[static_cast<size_t>(c)]));
      spec.channelformats.push_back(typeOf(map.picture->depth));
      ++spec.nchannels;
    }
  }
  spec.attribute("oiio:ColorSpace", "Linear");
  spec.attribute("Software", "Juvenor");
  return replacedWhole(file, [&](const std::filesystem::path& partial) -> Outcome {
    if (!out->open(partial.string(), spec)) return notWritten(*out, file.string());
    constexpr int kRows = 64;
    std::vector<float> rows;
    for (int y = 0; y < pixels; y += kRows) {
      const int end = std::min(pixels, y + kRows);
      rows.assign(
          static_cast<size_t>(end - y) * static_cast<size_t>(pixels) * static_cast<size_t>(spec.nchannels),
          0);
      size_t first = 0;
      for (const NamedMap& map : maps) {
        const auto planes = static_cast<size_t>(map.picture->planes);
        const auto& values = std::get<std::vector<float>>(map.picture->values);
        const size_t from = static_cast<size_t>(y) * static_cast<size_t>(pixels);
        for (size_t i = 0; i < static_cast<size_t>(end - y) * static_cast<size_t>(pixels); ++i)
          for (size_t c = 0; c < planes; ++c)
            rows[i * static_cast<size_t>(spec.nchannels) + first + c] = values[(from + i) * planes + c];
        first += planes;
      }
      if (!out->write_scanlines(y, end, 0, OIIO::TypeDesc::FLOAT, rows.data()))
        return notWritten(*out, file.string());
    }
    if (!out->close()) return notWritten(*out, file.string());
    return Done{};
  });
}

}  // namespace juvenor
