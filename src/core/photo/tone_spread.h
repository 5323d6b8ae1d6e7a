// Means and deviations of tones, as colour is matched by (Reinhard, Ashikhmin, Gooch, Shirley 2001, in
// Oklab).
#pragma once

#include <span>

#include "core/photo/picture_pyramid.h"
#include "core/photo/slide_tone.h"

namespace juvenor {

/// Of colours in linear light by their weights (empty: all as much); nothing where there is no weight.
std::optional<ToneSpread> spreadOf(std::span<const LinearColor> colors, std::span<const float> weights = {});
/// Of the opaque part of a picture.
std::optional<ToneSpread> spreadOf(const PicturePyramid& picture);

}  // namespace juvenor
