// Finished maps as files, through OpenImageIO: each appears when it is whole.
#pragma once

#include <filesystem>

#include "core/textures/bake.h"

namespace juvenor {

enum class MapFormat : uint8_t { Png, Tiff, Exr };
std::string_view endingOf(MapFormat format);
std::optional<MapFormat> mapFormatFrom(std::string_view ending);
/// What a format keeps: PNG 8 and 16 bits, TIFF 8, 16 and float, EXR half and float.
bool canKeep(MapFormat format, MapDepth depth);
/// What suits a map: 16 bits for heights, 8 for all else; floats where the format has no whole numbers.
MapDepth usualDepth(MapFormat format, const TextureWish& wish);
std::string_view depthKey(MapDepth depth);  ///< "8", "16", "half", "float"
std::optional<MapDepth> depthFromKey(std::string_view key);

/// One map. Colours in whole numbers are tagged as sRGB, in floats as linear; other maps are tagged as data,
/// and PNG says nothing of their colours.
Outcome writeMap(const std::filesystem::path& file, MapFormat format, const MapPicture& picture,
                 TextureRole role);

/// The same as the bytes of a file.
Result<std::string> encodeMap(MapFormat format, const MapPicture& picture, TextureRole role);

/// Several maps of one tile as layers of one EXR file, named after their suffixes.
struct NamedMap {
  std::string name;
  const MapPicture* picture;
  TextureRole role;
};
Outcome writeLayeredExr(const std::filesystem::path& file, std::span<const NamedMap> maps);

}  // namespace juvenor
