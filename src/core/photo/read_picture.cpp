// Pictures from files, through OpenImageIO.
#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imagebuf.h>
#include <OpenImageIO/imagebufalgo.h>
#include <OpenImageIO/imageio.h>
#include <fmt/format.h>

#include <algorithm>
#include <optional>

#include "core/files.h"
#include "core/parallel.h"
#include "core/photo/color_profile.h"
#include "core/photo/picture_data.h"
#include "core/sculpt/formats.h"

namespace juvenor {
namespace {

constexpr int64_t kMostPixels = int64_t{16384} * 16384;

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
  if (starts("RIFF") && bytes.size() >= 12 && bytes.compare(8, 4, "WEBP") == 0) return ".webp";
  if (bytes.size() > 3 && bytes[0] == 'M' && bytes[1] == 'M' && bytes[2] == 0) return ".tif";
  return {};
}

// Any number of channels as red, green, blue, alpha, floats as the file has them.
class PixelRows {
 public:
  PixelRows(const OIIO::ImageBuf& image, bool linear, const ColorProfile& profile)
      : image_(image), profile_(profile), channels_(image.nchannels()), linear_(linear) {}

  void into(PictureData& out, bool deep) const {
    const auto width = static_cast<size_t>(out.width), height = static_cast<size_t>(out.height);
    out.pixels.resize(width * height);
    if (deep) out.deep.resize(width * height);
    parallel(
        height,
        [&](size_t y) {
          const std::vector<Straight16> row = rowAt(static_cast<int>(y), width);
          for (size_t x = 0; x < width; ++x) {
            const Straight16& p = row[x];
            const auto byte = [](uint16_t v) { return (v + 128u) / 257u; };
            out.pixels[y * width + x] = byte(p.a) << 24 | byte(p.r) << 16 | byte(p.g) << 8 | byte(p.b);
          }
          if (deep) std::ranges::copy(row, out.deep.begin() + static_cast<std::ptrdiff_t>(y * width));
        },
        16);
  }

 private:
  std::vector<Straight16> rowAt(int y, size_t width) const {
    std::vector<Straight16> out =
        !linear_ && image_.spec().format == OIIO::TypeDesc::UINT8 ? bytesAt(y, width) : floatsAt(y, width);
    profile_.toSrgb(out);
    return out;
  }
  // (what most pictures are, without a way through floats)
  std::vector<Straight16> bytesAt(int y, size_t width) const {
    const auto* p = static_cast<const uint8_t*>(image_.pixeladdr(image_.xbegin(), image_.ybegin() + y, 0));
    const auto channels = static_cast<size_t>(channels_);
    const size_t green = channels < 3 ? 0 : 1, blue = channels < 3 ? 0 : 2;
    const int alpha = image_.spec().alpha_channel;
    const auto wide = [](uint8_t v) { return static_cast<uint16_t>(v * 257); };
    std::vector<Straight16> out(width);
    for (size_t x = 0; x < width; ++x, p += channels)
      out[x] = {wide(p[0]), wide(p[green]), wide(p[blue]), alpha >= 0 ? wide(p[alpha]) : uint16_t{65535}};
    return out;
  }
  std::vector<Straight16> floatsAt(int y, size_t width) const {
    const bool grey = channels_ < 3;
    const int alpha = image_.spec().alpha_channel, top = image_.ybegin() + y;
    std::vector<float> values(width * static_cast<size_t>(channels_));
    image_.get_pixels(OIIO::ROI(image_.xbegin(), image_.xend(), top, top + 1, 0, 1, 0, channels_),
                      OIIO::TypeDesc::FLOAT, values.data());
    std::vector<Straight16> out(width);
    for (size_t x = 0; x < width; ++x) {
      const float* p = &values[x * static_cast<size_t>(channels_)];
      const float a = alpha >= 0 ? p[alpha] : 1.f;
      const auto encoded = [&](int c) {
        const float v = p[grey ? 0 : c];
        return to16(linear_ ? encodeSrgb(alpha >= 0 && a > 0 ? v / a : v) : v);
      };
      out[x] = {encoded(0), encoded(1), encoded(2), to16(a)};
    }
    return out;
  }

  const OIIO::ImageBuf& image_;
  const ColorProfile& profile_;
  int channels_;
  bool linear_;
};

// The profile in a file, when it says anything else than sRGB.
ColorProfile profileIn(const OIIO::ImageSpec& spec) {
  const OIIO::ParamValue* bytes = spec.find_attribute("ICCProfile");
  if (!bytes || bytes->datasize() < 1) return {};
  return ColorProfile({static_cast<const char*>(bytes->data()), static_cast<size_t>(bytes->datasize())},
                      spec.nchannels < 3);
}

// The pixels of a file as they are in it.
Result<OIIO::ImageBuf> openedImage(std::string& bytes, const std::string& name) {
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
  if (!whole || spec.width < 1 || spec.height < 1)
    return Error{fmt::format("is damaged ({})", input->geterror()), name};
  return image;
}

}  // namespace

Result<RawPicture> decodeRaw(std::string bytes, const std::string& name) {
  auto image = openedImage(bytes, name);
  if (!image) return image.error();
  const OIIO::ImageSpec& spec = image->spec();
  RawPicture out{spec.width, spec.height, std::min(4, spec.nchannels), spec.format.is_floating_point(), {}};
  out.values.resize(static_cast<size_t>(out.width) * static_cast<size_t>(out.height) *
                    static_cast<size_t>(out.planes));
  const size_t row = static_cast<size_t>(out.width) * static_cast<size_t>(out.planes);
  parallel(
      static_cast<size_t>(out.height),
      [&](size_t y) {
        const int top = image->ybegin() + static_cast<int>(y);
        image->get_pixels(OIIO::ROI(image->xbegin(), image->xend(), top, top + 1, 0, 1, 0, out.planes),
                          OIIO::TypeDesc::FLOAT, &out.values[y * row]);
      },
      16);
  return out;
}

std::vector<std::string> readablePictureEndings() {
  return {"png", "jpg", "jpeg", "tif", "tiff", "exr", "webp"};
}

Result<PicturePointer> decodePicture(std::string bytes, const std::string& name) {
  const auto opened = openedImage(bytes, name);
  if (!opened) return opened.error();
  const OIIO::ImageSpec& spec = opened->spec();
  // turning upright copies, which a large picture that stands right can do without
  std::optional<OIIO::ImageBuf> turned;
  if (spec.get_int_attribute("Orientation", 1) != 1) turned = OIIO::ImageBufAlgo::reorient(*opened);
  const OIIO::ImageBuf& upright = turned ? *turned : *opened;
  auto out = std::make_shared<PictureData>();
  out->width = upright.spec().width;
  out->height = upright.spec().height;
  const bool linear = endingOf(bytes) == ".exr" || spec.get_string_attribute("oiio:ColorSpace") == "Linear";
  const ColorProfile profile = linear ? ColorProfile() : profileIn(spec);
  if (profile.damaged()) out->note = "its colour profile is damaged; its colours are taken for sRGB";
  PixelRows(upright, linear, profile).into(*out, spec.format.basesize() > 1);
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
