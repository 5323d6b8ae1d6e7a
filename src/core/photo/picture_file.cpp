#include "core/photo/picture_file.h"
#include "core/files.h"

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>

#include <vector>

namespace juvenor {

namespace {

// Red, green, blue, and alpha where it is wanted.
std::vector<uint8_t> valuesOf(std::span<const uint32_t> pixels, bool alpha) {
  std::vector<uint8_t> out;
  out.reserve(pixels.size() * (alpha ? 4 : 3));
  for (const uint32_t p : pixels) {
    for (const int shift : {16, 8, 0}) out.push_back(static_cast<uint8_t>(p >> shift));
    if (alpha) out.push_back(static_cast<uint8_t>(p >> 24));
  }
  return out;
}

std::vector<uint16_t> valuesOf(std::span<const Straight16> pixels, bool alpha) {
  std::vector<uint16_t> out;
  out.reserve(pixels.size() * (alpha ? 4 : 3));
  for (const Straight16& p : pixels) {
    for (const uint16_t v : {p.r, p.g, p.b}) out.push_back(v);
    if (alpha) out.push_back(p.a);
  }
  return out;
}

template <class Pixel>
Outcome put(OIIO::ImageOutput& out, const std::string& name, const ViewSize& size,
            std::span<const Pixel> pixels, bool alpha = false) {
  const auto values = valuesOf(pixels, alpha);
  const auto type = OIIO::BaseTypeFromC<typename decltype(values)::value_type>::value;
  OIIO::ImageSpec spec(size.width, size.height, alpha ? 4 : 3, type);
  spec.attribute("oiio:ColorSpace", "sRGB");
  // straight values go into the file as they are
  spec.attribute("oiio:UnassociatedAlpha", 1);
  if (!out.open(name, spec) || !out.write_image(type, values.data()) || !out.close())
    return Error{"was not written (" + out.geterror() + ")", name};
  return Done{};
}

template <class Pixel>
Result<std::string> png(const ViewSize& size, std::span<const Pixel> pixels, bool alpha) {
  std::vector<unsigned char> bytes;
  OIIO::Filesystem::IOVecOutput into(bytes);
  const auto out = OIIO::ImageOutput::create("picture.png", &into);
  if (!out) return Error{"PNG files cannot be written here"};
  const Outcome done = put(*out, "picture.png", size, pixels, alpha);
  if (!done) return done.error();
  return std::string(bytes.begin(), bytes.end());
}

}  // namespace

Outcome writePicture(const std::filesystem::path& path, const ViewSize& size,
                     std::span<const uint32_t> pixels) {
  const auto out = OIIO::ImageOutput::create(path.string());
  if (!out) return Error{"is of no kind this program writes pictures in", path.string()};
  return replacedWhole(
      path, [&](const std::filesystem::path& partial) { return put(*out, partial.string(), size, pixels); });
}

Result<std::string> encodePng(const ViewSize& size, std::span<const uint32_t> pixels, bool alpha) {
  return png(size, pixels, alpha);
}

Result<std::string> encodePng(const ViewSize& size, std::span<const Straight16> pixels, bool alpha) {
  return png(size, pixels, alpha);
}

}  // namespace juvenor
