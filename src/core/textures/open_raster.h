// Layered pictures as OpenRaster files (.ora), an open standard of the freedesktop.org projects: a zip with
// the layers as PNG, a stack.xml that says how they lie, the merged picture and a thumbnail (specification
// 0.0.6, from memory).
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/result.h"

namespace juvenor {

struct RasterLayer {
  std::string name;
  float opacity = 1;  ///< 0…1
  bool visible = true;
  std::string operation = "svg:src-over";  ///< how it blends, as the standard calls it
  int left = 0, top = 0;                   ///< of its picture in the whole
  std::string png;                         ///< the bytes of its file
  uint32_t id = 0;  ///< an attribute of ours: which layer of a document it is; 0: not told
};

struct RasterPicture {
  int width = 0, height = 0;        ///< pixels
  std::vector<RasterLayer> layers;  ///< topmost first
  std::string merged, thumbnail;    ///< PNG; the thumbnail at most 256 pixels a side; not read again
  int tile = 0;                     ///< an attribute of ours: the tile it was baked of; 0: not told
};

/// As bytes of a file, whose first entry is the stored `mimetype`.
Result<std::string> openRasterBytes(const RasterPicture& picture);
/// Stacks in stacks are laid flat: their opacity and visibility go to the layers in them. The error says what
/// is wrong.
Result<RasterPicture> openRasterFrom(const std::string& bytes);
Result<RasterPicture> readOpenRaster(const std::filesystem::path& file);

}  // namespace juvenor
