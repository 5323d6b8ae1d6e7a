// A photo is broad tone and fine detail; what of it is laid, and how bright a place is next to what is
// around.
#pragma once

#include <string_view>

#include "core/photo/slide_view.h"

namespace juvenor {

/// What of a photo is laid.
enum class PhotoPart {
  All,
  Detail,  ///< its fine part, over the tone of what lies below
  Tone     ///< its broad part alone
};
inline constexpr int kPhotoPartCount = 3;
/// The name in files and scripts ("detail").
std::string_view photoPartKey(PhotoPart part);
std::optional<PhotoPart> photoPartFromKey(std::string_view key);

struct PhotoSplit {
  PhotoPart part = PhotoPart::All;
  float size = 2;       ///< scene units: what is finer is detail, what is broader tone
  bool detail = false;  ///< whether PhotoPoint::detail is asked for though all of it is laid
};

/// What a slide brings to a spot.
struct PhotoPoint {
  LinearColor color;  ///< of detail: what the skin below is to be multiplied by
  float alpha = 0;    ///< of the photo, 0…1
  float detail = 0;   ///< doublings of brightness over what is around, at most three either way
};
inline constexpr float kMostDetail = 3;

PhotoPoint photoAt(const SlideView& view, const SlideView::Spot& spot, const SlideView::Landing& landing,
                   const PhotoSplit& split);

}  // namespace juvenor
