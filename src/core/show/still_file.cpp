#include "core/show/still_file.h"

#include <OpenImageIO/imageio.h>
#include <fmt/format.h>

#include <algorithm>

#include "core/files.h"

namespace juvenor {
namespace {

namespace fs = std::filesystem;

std::string stillEnding(const fs::path& file) {
  std::string out = file.extension().string();
  std::ranges::transform(out, out.begin(),
                         [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return out;
}

// Straight and encoded, red first.
template <class Value>
void encodeRow(const StillPicture& picture, int y, bool clear, std::vector<Value>& out) {
  constexpr float kMost = std::numeric_limits<Value>::max();
  out.clear();
  for (int x = 0; x < picture.size.width; ++x) {
    const size_t at =
        static_cast<size_t>(y) * static_cast<size_t>(picture.size.width) + static_cast<size_t>(x);
    const float cover = picture.cover(at);
    const Vec3 light = clear && cover > 0 ? Vec3(picture.light(at) / cover) : picture.light(at);
    if constexpr (sizeof(Value) == 1) {
      const uint32_t rgb = toned(light, picture.toning, x, y);
      for (const int shift : {16, 8, 0}) out.push_back(static_cast<Value>(rgb >> shift));
    } else {
      const Vec3 shown = shownAs(light, picture.toning);
      for (int c = 0; c < 3; ++c) out.push_back(encodeSrgb16(shown[c]));
    }
    if (clear) out.push_back(static_cast<Value>(cover * kMost + 0.5f));
  }
}

void linearRow(const StillPicture& picture, int y, bool clear, std::vector<float>& out) {
  out.clear();
  const size_t at = static_cast<size_t>(y) * static_cast<size_t>(picture.size.width);
  for (size_t x = 0; x < static_cast<size_t>(picture.size.width); ++x)
    for (size_t c = 0; c < (clear ? 4u : 3u); ++c) out.push_back(picture.pixels[at + x][c]);
}

template <class Value, class Row>
Outcome putRows(OIIO::ImageOutput& out, OIIO::TypeDesc type, const StillPicture& picture,
                const std::string& name, Row row) {
  std::vector<Value> values;
  for (int y = 0; y < picture.size.height; ++y) {
    row(y, values);
    if (!out.write_scanline(y, 0, type, values.data()))
      return Error{"was not written (" + out.geterror() + ")", name};
  }
  return Done{};
}

Outcome putStill(OIIO::ImageOutput& out, const std::string& name, const StillPicture& picture, bool clear,
                 StillDepth depth, bool linear) {
  const OIIO::TypeDesc type = linear                        ? OIIO::TypeDesc::HALF
                              : depth == StillDepth::Bits16 ? OIIO::TypeDesc::UINT16
                                                            : OIIO::TypeDesc::UINT8;
  OIIO::ImageSpec spec(picture.size.width, picture.size.height, clear ? 4 : 3, type);
  spec.attribute("oiio:ColorSpace", linear ? "Linear" : "sRGB");
  spec.attribute("Software", "Juvenor");
  // straight values go into the file as they are
  if (!linear) spec.attribute("oiio:UnassociatedAlpha", 1);
  if (!out.open(name, spec)) return Error{"was not written (" + out.geterror() + ")", name};
  Outcome ok = Done{};
  if (linear)
    ok = putRows<float>(out, OIIO::TypeDesc::FLOAT, picture, name,
                        [&](int y, auto& row) { linearRow(picture, y, clear, row); });
  else if (depth == StillDepth::Bits16)
    ok = putRows<uint16_t>(out, type, picture, name,
                           [&](int y, auto& row) { encodeRow(picture, y, clear, row); });
  else
    ok = putRows<uint8_t>(out, type, picture, name,
                          [&](int y, auto& row) { encodeRow(picture, y, clear, row); });
  if (ok && !out.close()) return Error{"was not written (" + out.geterror() + ")", name};
  return ok;
}

}  // namespace

Outcome checkedStillFile(const fs::path& file, bool clear, StillDepth depth) {
  const std::string ending = stillEnding(file);
  const bool jpeg = ending == ".jpg" || ending == ".jpeg";
  if (!jpeg && ending != ".png" && ending != ".tif" && ending != ".tiff" && ending != ".exr")
    return Error{"has no ending a still is written with: .png, .tif, .jpg or .exr", file.string()};
  if (jpeg && clear)
    return Error{"cannot be clear behind the sculpt; .png, .tif and .exr can", file.string()};
  if (jpeg && depth == StillDepth::Bits16)
    return Error{"has 8 bits a channel; .png and .tif can have 16", file.string()};
  return Done{};
}

Outcome writeStill(const fs::path& file, const StillPicture& picture, bool clear, StillDepth depth) {
  if (const Outcome ok = checkedStillFile(file, clear, depth); !ok) return ok;
  const auto out = OIIO::ImageOutput::create(file.string());
  if (!out) return Error{"is of no kind this program writes pictures in", file.string()};
  return replacedWhole(file, [&](const fs::path& partial) {
    return putStill(*out, partial.string(), picture, clear, depth, stillEnding(file) == ".exr");
  });
}

}  // namespace juvenor
