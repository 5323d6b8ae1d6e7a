#include "core/photo/color_profile.h"

#include <lcms2.h>

#include <array>
#include <vector>

namespace juvenor {
namespace {

using Profile = std::unique_ptr<void, decltype(&cmsCloseProfile)>;

// Most pictures say that they are what they would be taken for anyway.
bool isSrgb(cmsHPROFILE profile) {
  std::array<char, 128> text{};
  cmsGetProfileInfoASCII(profile, cmsInfoDescription, "en", "US", text.data(),
                         static_cast<cmsUInt32Number>(text.size() - 1));
  return std::string_view(text.data()).find("sRGB") != std::string_view::npos;
}

}  // namespace

ColorProfile::ColorProfile(std::string_view bytes, bool grey) : grey_(grey) {
  const Profile from(cmsOpenProfileFromMem(bytes.data(), static_cast<cmsUInt32Number>(bytes.size())),
                     &cmsCloseProfile);
  const Profile to(cmsCreate_sRGBProfile(), &cmsCloseProfile);
  const cmsColorSpaceSignature wanted = grey ? cmsSigGrayData : cmsSigRgbData;
  damaged_ = !from || cmsGetColorSpace(from.get()) != wanted;
  if (damaged_ || isSrgb(from.get())) return;
  const cmsHTRANSFORM made =
      cmsCreateTransform(from.get(), grey ? TYPE_GRAY_16 : TYPE_RGB_16, to.get(), TYPE_RGB_16,
                         INTENT_RELATIVE_COLORIMETRIC, cmsFLAGS_NOCACHE | cmsFLAGS_BLACKPOINTCOMPENSATION);
  damaged_ = !made;
  if (made) transform_.reset(made, &cmsDeleteTransform);
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
