// Where the eye goes in a picture of the work: contrast of lightness, of hue and of fineness, each between a
// place and what lies around it, at three scales (centre and surround as differences of Gaussians, and maps
// with few peaks before those with many: Itti, Koch, Niebur 1998, "A Model of Saliency-Based Visual Attention
// for Rapid Scene Analysis"; hue as CIELAB's two opponents in place of their own, fineness in place of their
// orientations). Only what is sculpt is compared with sculpt: the outline against the background says nothing
// about the skin.
#pragma once

#include <span>
#include <vector>

#include "core/view/camera.h"

namespace juvenor {

/// A place that draws the eye: its pixel in the picture, and how much it does, 0…1: all when nothing else
/// does.
struct EyePlace {
  Vec2 pixel = Vec2::Zero();
  float draw = 0;
};

struct EyeMap {
  ViewSize size;            ///< of the map: the picture in pixels that are as many times larger as needed
  std::vector<float> draw;  ///< 0…1 for each, 0 where there is no sculpt
  std::vector<EyePlace> strongest;  ///< up to three that lie apart, the strongest first
};

/// `pixels`: 0x..RRGGBB, sRGB-encoded, as many as `size` has; `sculpt`: whether each shows any. Nothing draws
/// where no contrast can be seen.
EyeMap whereTheEyeGoes(std::span<const uint32_t> pixels, std::span<const uint8_t> sculpt,
                       const ViewSize& size);

/// The mean of what draws in the pixels of the picture `within` says yes to, over the mean of the whole
/// sculpt: above 1 is more than its share.
float drawOf(const EyeMap& map, std::span<const uint8_t> within, const ViewSize& size);

}  // namespace juvenor
