// Pictures to files, through OpenImageIO.
#pragma once

#include <filesystem>
#include <span>
#include <string>

#include "core/photo/picture_data.h"
#include "core/result.h"
#include "core/view/camera.h"

namespace juvenor {

/// Writes 0xAARRGGBB pixels as an opaque 8-bit picture; the ending (png, tif, jpg) chooses the format.
Outcome writePicture(const std::filesystem::path& path, const ViewSize& size,
                     std::span<const uint32_t> pixels);

/// The same as the bytes of a PNG file; with `alpha` the pixels are straight and not opaque.
Result<std::string> encodePng(const ViewSize& size, std::span<const uint32_t> pixels, bool alpha = false);
/// With 16 bits a channel.
Result<std::string> encodePng(const ViewSize& size, std::span<const Straight16> pixels, bool alpha);

}  // namespace juvenor
