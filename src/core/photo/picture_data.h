// A picture as it came and as it is looked at.
#pragma once

#include <cstdint>
#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "core/color/srgb.h"
#include "core/result.h"

namespace juvenor {

/// Immutable and shared by all steps of the work that hold it.
struct PictureData {
  std::string file;              ///< the bytes of the file
  uint64_t fingerprint = 0;      ///< of those bytes
  int width = 0, height = 0;     ///< pixels, turned upright
  std::vector<uint32_t> pixels;  ///< 0xAARRGGBB, sRGB-encoded, straight, row by row from the top
};
using PicturePointer = std::shared_ptr<const PictureData>;

/// Endings of the picture files that can be read.
std::vector<std::string> readablePictureEndings();

/// A picture from the bytes of a PNG, JPEG, TIFF, EXR or WebP file; `name` is told in errors. Linear pictures
/// are encoded, values above white are cut.
Result<PicturePointer> decodePicture(std::string bytes, const std::string& name);
/// The same from a file on disk.
Result<PicturePointer> readPicture(const std::filesystem::path& path);

/// Mean colour (averaged in linear light) of the pixels within a square of `width` pixels around a place in
/// pixels; transparent ones count by their alpha.
EncodedColor meanColor(const PictureData& picture, float x, float y, int width);

}  // namespace juvenor
