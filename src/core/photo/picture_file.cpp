#include "core/photo/picture_file.h"

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>

#include <vector>

namespace juvenor {

namespace {

std::vector<uint8_t> bytesOf(std::span<const uint32_t> pixels, bool alpha) {
  std::vector<uint8_t> bytes;
  bytes.reserve(pixels.size() * (alpha ? 4 : 3));
  for (const uint32_t p : pixels) {
    for (const int shift : {16, 8, 0}) bytes.push_back(static_cast<uint8_t>(p >> shift));
    if (alpha) bytes.push_back(static_cast<uint8_t>(p >> 24));
  }
  return bytes;
}

Outcome put(OIIO::ImageOutput& out, const std::string& name, const ViewSize& size,
            std::span<const uint32_t> pixels, bool alpha = false) {
  OIIO::ImageSpec spec(size.width, size.height, alpha ? 4 : 3, OIIO::TypeDesc::UINT8);
  spec.attribute("oiio:ColorSpace", "sRGB");
  // straight values go into the file as they are
  spec.attribute("oiio:UnassociatedAlpha", 1);
  const std::vector<uint8_t> bytes = bytesOf(pixels, alpha);
  if (!out.open(name, spec) || !out.write_image(OIIO::TypeDesc::UINT8, bytes.data()) || !out.close())
    return Error{"was not written (" + out.geterror() + ")", name};
  return Done{};
}

}  // namespace

Outcome writePicture(const std::filesystem::path& path, const ViewSize& size,
                     std::span<const uint32_t> pixels) {
  const auto out = OIIO::ImageOutput::create(path.string());
  if (!out) return Error{"is of no kind this program writes pictures in", path.string()};
  return put(*out, path.string(), size, pixels);
}

Result<std::string> encodePng(const ViewSize& size, std::span<const uint32_t> pixels, bool alpha) {
  std::vector<unsigned char> bytes;
  OIIO::Filesystem::IOVecOutput into(bytes);
  const auto out = OIIO::ImageOutput::create("picture.png", &into);
  if (!out) return Error{"PNG files cannot be written here"};
  const Outcome done = put(*out, "picture.png", size, pixels, alpha);
  if (!done) return done.error();
  return std::string(bytes.begin(), bytes.end());
}

}  // namespace juvenor
