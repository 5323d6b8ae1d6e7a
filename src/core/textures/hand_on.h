// The texture maps of a document as files in a folder: which maps, for which mesh, how fine. Tiles do not
// know of each other, so a list of them can be spread over many machines.
#pragma once

#include <filesystem>

#include "core/sculpt/material.h"
#include "core/textures/bake_ground.h"
#include "core/textures/write_maps.h"

namespace juvenor {

struct WishedMap {
  TextureWish map;
  MapDepth depth = MapDepth::Whole8;
};

/// The mesh along with its maps.
enum class MeshFile : uint8_t {
  None,
  Glb,  ///< with materials and pictures of its own inside, of 8 bits
  Obj,  ///< with a library of materials that name the maps beside it
};

struct HandOn {
  std::filesystem::path folder;
  std::string name;  ///< NAME_suffix.1001.png
  std::vector<WishedMap> maps;
  MapFormat format = MapFormat::Png;
  bool layered = false;    ///< EXR: one file a tile with all maps
  int pixels = 4096;       ///< 16 … 16,384 a side
  std::vector<int> tiles;  ///< empty: all there are
  int looks = 4;           ///< 1 … 16 a texel
  uint32_t padding = 16;   ///< texels; kPadAll: all of the background
  bool greenUp = true;     ///< of normal maps; false: green goes down
  NormalsFrom normals = NormalsFrom::Everything;
  WornBy by;  ///< for which mesh
  MeshFile meshFile = MeshFile::None;
  std::vector<HandedCamera> cameras;  ///< in a GLB, as they stand in the scene
  std::vector<HandedLamp> lamps;
  bool variants = false;  ///< in a GLB, materials for each of the document's variants too
  bool force = false;     ///< writes over files that are there
};

struct HandedOn {
  std::vector<std::filesystem::path> files;  ///< the description last
  std::vector<int> tiles;
  size_t covered = 0, missed = 0;  ///< texels a mesh lies on; of those where no skin was found
  float reach = 0;                 ///< scene units; 0: the sculpt itself
};

/// An error before anything is written: what is wished for cannot be, or a file is there already.
Result<HandedOn> handOn(const Document& document, const HandOn& wish, const Progress& progress = {});

/// The file of a map; `tile` is told unless the layout has no tile but the first.
std::string mapFileName(const HandOn& wish, const std::string& suffix, int tile, bool manyTiles);

}  // namespace juvenor
