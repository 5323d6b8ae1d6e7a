#include "core/photo/photo_part.h"

#include <algorithm>
#include <cmath>

namespace juvenor {
namespace {

constexpr std::array<std::string_view, kPhotoPartCount> kParts{"all", "detail", "tone"};
constexpr float kDarkest = 1e-4f;  // linear; below it a ratio says nothing

float over(float a, float b) {
  return std::clamp(std::max(a, kDarkest) / std::max(b, kDarkest), std::exp2(-kMostDetail),
                    std::exp2(kMostDetail));
}

}  // namespace

std::string_view photoPartKey(PhotoPart part) {
  return kParts[static_cast<size_t>(part)];
}

std::optional<PhotoPart> photoPartFromKey(std::string_view key) {
  const auto at = std::ranges::find(kParts, key);
  if (at == kParts.end()) return std::nullopt;
  return static_cast<PhotoPart>(at - kParts.begin());
}

PhotoPoint photoAt(const SlideView& view, const SlideView::Spot& spot, const SlideView::Landing& landing,
                   const PhotoSplit& split) {
  const PictureValue all = view.shown(landing, spot.light);
  PhotoPoint out{all.color, all.alpha};
  if (!(all.alpha > 0) || (split.part == PhotoPart::All && !split.detail)) return out;
  const float wider = std::max(1.f, split.size / std::sqrt(std::max(spot.area, 1e-30f)));
  const auto broadly = view.landing(spot, wider);
  const PictureValue tone = view.shown(*broadly, spot.light);
  if (!(tone.alpha > 0)) return out;
  out.detail = std::log2(over(brightness(all.color), brightness(tone.color)));
  if (split.part == PhotoPart::Tone) out.color = tone.color;
  if (split.part == PhotoPart::Detail)
    out.color = {over(all.color.r, tone.color.r), over(all.color.g, tone.color.g),
                 over(all.color.b, tone.color.b)};
  return out;
}

}  // namespace juvenor
