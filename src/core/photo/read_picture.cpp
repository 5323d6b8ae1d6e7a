// Pictures from files, through OpenImageIO.
#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imagebuf.h>
#include <OpenImageIO/imagebufalgo.h>
#include <OpenImageIO/imageio.h>
#include <fmt/format.h>

#include <algorithm>

#include "core/files.h"
#include "core/photo/picture_data.h"
#include "core/sculpt/formats.h"

namespace juvenor {
namespace {

constexpr int64_t kMostPixels = 200'000'000;

// FNV-1a (Fowler, Noll, Vo): tells files apart, guards against nothing.
uint64_t fingerprintOf(const std::string& bytes) {
  uint64_t h = 1469598103934665603ull;
  for (const char c : bytes) h = (h ^ static_cast<unsigned char>(c)) * 1099511628211ull;
  return h;
}

// The library chooses a reader by the ending; a pasted picture or one from a document may have none, so the
// first bytes tell.
std::string endingOf(const std::string& bytes) {
  const auto starts = [&](std::string_view with) { return bytes.compare(0, with.size(), with) == 0; };
  if (starts("\x89PNG")) return ".png";
  if (starts("\xff\xd8\xff")) return ".jpg";
  if (starts("II*") || starts("MM\0*") || starts("II+") || starts(std::string_view("MM\0+", 4)))
    return ".tif";
  if (starts("\x76\x2f\x31\x01")) return ".exr";
  if (starts("RIFF") && bytes.compare(8, 4, "WEBP") == 0) return ".webp";
  if (bytes.size() > 3 && bytes[0] == 'M' && bytes[1] == 'M' && bytes[2] == 0) return ".tif";
  return {};
}

uint32_t byteOf(float v) {
  return static_cast<uint32_t>(std::clamp(v, 0.f, 1.f) * 255.f + 0.5f);
}

// Any number of channels as red, green, blue, alpha, floats as the file has them.
void toPixels(const OIIO::ImageBuf& image, bool linear, PictureData& out) {
  const int channels = image.nchannels();
  const bool grey = channels < 3;
  const int alpha = image.spec().alpha_channel;
  std::vector<float> row(static_cast<size_t>(out.width) * static_cast<size_t>(channels));
  out.pixels.resize(static_cast<size_t>(out.width) * static_cast<size_t>(out.height));
  for (int y = 0; y < out.height; ++y) {
    const int top = image.ybegin() + y;
    image.get_pixels(OIIO::ROI(image.xbegin(), image.xend(), top, top + 1, 0, 1, 0, channels),
                     OIIO::TypeDesc::FLOAT, row.data());
    for (int x = 0; x < out.width; ++x) {
      const float* p = &row[static_cast<size_t>(x) * static_cast<size_t>(channels)];
      const float a = alpha >= 0 ? p[alpha] : 1.f;
      uint32_t pixel = byteOf(a);
      for (int c = 0; c < 3; ++c) {
        float v = p[grey ? 0 : c];
        if (linear) v = encodeSrgb(alpha >= 0 && a > 0 ? v / a : v);
        pixel = pixel << 8 | byteOf(v);
      }
      out.pixels[static_cast<size_t>(y) * static_cast<size_t>(out.width) + static_cast<size_t>(x)] = pixel;
    }
  }
}

}  // namespace

std::vector<std::string> readablePictureEndings() {
  return {"png", "jpg", "jpeg", "tif", "tiff", "exr", "webp"};
}

Result<PicturePointer> decodePicture(std::string bytes, const std::string& name) {
  const std::string ending = endingOf(bytes);
  if (ending.empty())
    return Error{"is no picture this program reads; PNG, JPEG, TIFF, EXR and WebP are", name};
  OIIO::Filesystem::IOMemReader reader(bytes.data(), bytes.size());
  OIIO::Filesystem::IOProxy* proxy = &reader;
  OIIO::ImageSpec config;
  config.attribute("oiio:UnassociatedAlpha", 1);
  config.attribute("oiio:ioproxy", OIIO::TypeDesc::PTR, &proxy);
  auto input = OIIO::ImageInput::open("picture" + ending, &config, &reader);
  if (!input) return Error{fmt::format("is damaged ({})", OIIO::geterror()), name};
  const OIIO::ImageSpec spec = input->spec();
  if (int64_t{spec.width} * spec.height > kMostPixels)
    return Error{fmt::format("is too large: {} × {} pixels, {} million at most", spec.width, spec.height,
                             kMostPixels / 1'000'000),
                 name};
  OIIO::ImageBuf image(spec);
  const bool whole = input->read_image(0, 0, 0, spec.nchannels, spec.format, image.localpixels());
  if (!whole || spec.width < 1 || spec.height < 1) {
    return Error{fmt::format("is damaged ({})", input->geterror()), name};
  }
  const OIIO::ImageBuf upright = OIIO::ImageBufAlgo::reorient(image);
  auto out = std::make_shared<PictureData>();
  out->width = upright.spec().width;
  out->height = upright.spec().height;
  const bool linear = ending == ".exr" || spec.get_string_attribute("oiio:ColorSpace") == "Linear";
  toPixels(upright, linear, *out);
  out->fingerprint = fingerprintOf(bytes);
  out->file = std::move(bytes);
  return PicturePointer(std::move(out));
}

Result<PicturePointer> readPicture(const std::filesystem::path& path) {
  auto bytes = readBytes(path);
  if (!bytes) return bytes.error();
  return decodePicture(std::move(*bytes), path.string());
}

}  // namespace juvenor
