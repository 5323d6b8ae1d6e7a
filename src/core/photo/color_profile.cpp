#include "core/photo/color_profile.h"

#include <lcms2.h>

#include <array>
#include <cstdlib>
#include <vector>

namespace juvenor {
namespace {

using Profile = std::unique_ptr<void, decltype(&cmsCloseProfile)>;

// Most pictures say that they are what they would be taken for anyway: with the same primaries and curve
// nothing changes by as much as half a step of eight bits. Names say nothing: there are linear profiles
// called sRGB.
bool changesNothing(cmsHTRANSFORM transform, bool grey) {
  constexpr int kSteps = 5, kNear = 128;
  std::vector<uint16_t> from, as;
  for (int r = 0; r < kSteps; ++r)
    for (int g = 0; g < (grey ? 1 : kSteps); ++g)
      for (int b = 0; b < (grey ? 1 : kSteps); ++b) {
        const std::array<int, 3> rgb = grey ? std::array{r, r, r} : std::array{r, g, b};
        for (size_t c = 0; c < 3; ++c) {
          const auto v = static_cast<uint16_t>(65535 * rgb[c] / (kSteps - 1));
          if (c == 0 || !grey) from.push_back(v);
          as.push_back(v);
        }
      }
  std::vector<uint16_t> to(as.size());
  cmsDoTransform(transform, from.data(), to.data(), static_cast<cmsUInt32Number>(as.size() / 3));
  for (size_t i = 0; i < as.size(); ++i)
    if (std::abs(int{as[i]} - int{to[i]}) > kNear) return false;
  return true;
}

}  // namespace

ColorProfile::ColorProfile(std::string_view bytes, bool grey) : grey_(grey) {
  const Profile from(cmsOpenProfileFromMem(bytes.data(), static_cast<cmsUInt32Number>(bytes.size())),
                     &cmsCloseProfile);
  const Profile to(cmsCreate_sRGBProfile(), &cmsCloseProfile);
  const cmsColorSpaceSignature wanted = grey ? cmsSigGrayData : cmsSigRgbData;
  damaged_ = !from || cmsGetColorSpace(from.get()) != wanted;
  if (damaged_) return;
  // Left to itself the library puts a coarse grid in the place of the profile: up to 8 % off where colours
  // leave sRGB. Worked out pixel by pixel it takes ten times as long, and is right.
  const cmsHTRANSFORM made = cmsCreateTransform(
      from.get(), grey ? TYPE_GRAY_16 : TYPE_RGB_16, to.get(), TYPE_RGB_16, INTENT_RELATIVE_COLORIMETRIC,
      cmsFLAGS_NOCACHE | cmsFLAGS_NOOPTIMIZE | cmsFLAGS_BLACKPOINTCOMPENSATION);
  damaged_ = !made;
  if (made) transform_.reset(made, &cmsDeleteTransform);
  if (made && changesNothing(made, grey)) transform_.reset();
}

void ColorProfile::toSrgb(std::span<Straight16> pixels) const {
  if (!transform_) return;
  const size_t in = grey_ ? 1 : 3;
  std::vector<uint16_t> from(in * pixels.size()), to(3 * pixels.size());
  for (size_t i = 0; i < pixels.size(); ++i) {
    from[in * i] = pixels[i].r;
    if (!grey_) {
      from[in * i + 1] = pixels[i].g;
      from[in * i + 2] = pixels[i].b;
    }
  }
  cmsDoTransform(transform_.get(), from.data(), to.data(), static_cast<cmsUInt32Number>(pixels.size()));
  for (size_t i = 0; i < pixels.size(); ++i) {
    pixels[i].r = to[3 * i];
    pixels[i].g = to[3 * i + 1];
    pixels[i].b = to[3 * i + 2];
  }
}

}  // namespace juvenor
