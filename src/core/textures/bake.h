// The maps of one tile, band by band on all cores: what the texels see, added up over their looks, settled,
// padded, and kept as the file will hold it.
#pragma once

#include <variant>

#include "core/textures/padding.h"
#include "core/textures/texel_places.h"

namespace juvenor {

enum class MapDepth : uint8_t { Whole8, Whole16, Half, Float };

/// A finished map of a tile, row by row from the top.
struct MapPicture {
  int pixels = 0;  ///< of each edge
  int planes = 1;
  MapDepth depth = MapDepth::Whole8;
  /// Whole numbers of the depth; floats of Half, too.
  std::variant<std::vector<uint8_t>, std::vector<uint16_t>, std::vector<float>> values;
};

/// A map and how it is kept.
struct MapToBake {
  const TexelMap* map;
  TextureRole role;
  int planes;
  MapDepth depth;
  float heightRange = 1;  ///< millimetres; of heights in whole numbers
};
/// Memory its picture takes.
size_t bytesOf(const MapToBake& map, int pixels);

struct TileSetting {
  int tile = 1001;
  int pixels = 4096;      ///< 16 … 16,384
  int looks = 1;          ///< 1 … 16 a texel
  uint32_t padding = 16;  ///< texels around the islands; kPadAll: the whole background
};
inline constexpr int kLeastPixels = 16, kMostPixels = 16384, kMostLooks = 16;

struct BakedTile {
  std::vector<MapPicture> maps;  ///< one for each asked for
  size_t covered = 0;            ///< texels the mesh lies on
  size_t missed = 0;             ///< of those: where no skin was found; filled from around
};

/// The only error is a cancel.
Result<BakedTile> bakeTile(const TileSetting& setting, const TexelPlaces& places,
                           std::span<const MapToBake> maps, const Progress& progress = {});

}  // namespace juvenor
