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

/// A pixel whose colour is not multiplied by its alpha, sRGB-encoded, 16 bits a channel.
struct Straight16 {
  uint16_t r = 0, g = 0, b = 0, a = 0;
};

/// Immutable and shared by all steps of the work that hold it.
struct PictureData {
  std::string file;                   ///< the bytes of the file
  uint64_t fingerprint = 0;           ///< of those bytes
  int width = 0, height = 0;          ///< pixels, turned upright
  std::vector<uint32_t> pixels;       ///< 0xAARRGGBB, sRGB-encoded, straight, row by row from the top
  std::vector<Straight16> deep = {};  ///< the same of files finer than 8 bits a channel, else empty
  std::string note = {};              ///< what one should know of how it was read; empty: nothing

  /// Pixel by its number, as finely as the file has it.
  Straight16 straight(size_t at) const {
    if (!deep.empty()) return deep[at];
    const uint32_t p = pixels[at];
    const auto of = [&](int shift) { return static_cast<uint16_t>(((p >> shift) & 0xff) * 257); };
    return {of(16), of(8), of(0), of(24)};
  }
  /// Memory it takes.
  size_t bytes() const { return file.size() + 4 * pixels.size() + sizeof(Straight16) * deep.size(); }
};
using PicturePointer = std::shared_ptr<const PictureData>;

/// Endings of the picture files that can be read.
std::vector<std::string> readablePictureEndings();

/// A picture from the bytes of a PNG, JPEG, TIFF, EXR or WebP file; `name` is told in errors. Colours are
/// brought to sRGB by the colour profile (ICC) in the file, when it has one; linear pictures are encoded,
/// values above white are cut.
Result<PicturePointer> decodePicture(std::string bytes, const std::string& name);
/// The same from a file on disk.
Result<PicturePointer> readPicture(const std::filesystem::path& path);

/// Numbers as a file has them: whole ones as 0…1, floats as they are; nothing is done about colours.
struct RawPicture {
  int width = 0, height = 0, planes = 1;  ///< four planes at most
  bool floats = false;
  std::vector<float> values;  ///< row by row from the top
};
Result<RawPicture> decodeRaw(std::string bytes, const std::string& name);

/// Mean colour (averaged in linear light) of the pixels within a square of `width` pixels around a place in
/// pixels; transparent ones count by their alpha.
EncodedColor meanColor(const PictureData& picture, float x, float y, int width);

}  // namespace juvenor
