#include "core/export/picture_file.h"

#include <OpenImageIO/imageio.h>

#include <vector>

namespace juvenor {

Outcome writePicture(const std::filesystem::path& path, const ViewSize& size,
                     std::span<const uint32_t> pixels) {
  std::vector<uint8_t> bytes;
  bytes.reserve(pixels.size() * 3);
  for (const uint32_t p : pixels)
    for (const int shift : {16, 8, 0}) bytes.push_back(static_cast<uint8_t>(p >> shift));
  const auto out = OIIO::ImageOutput::create(path.string());
  if (!out) return Error{"is of no kind this program writes pictures in", path.string()};
  OIIO::ImageSpec spec(size.width, size.height, 3, OIIO::TypeDesc::UINT8);
  spec.attribute("oiio:ColorSpace", "sRGB");
  if (!out->open(path.string(), spec) || !out->write_image(OIIO::TypeDesc::UINT8, bytes.data()) ||
      !out->close())
    return Error{"was not written (" + out->geterror() + ")", path.string()};
  return Done{};
}

}  // namespace juvenor
