// The broad light of a photo: what of its brightness varies so slowly that it is taken for light rather than
// skin. A Gaussian mean of a small picture, in which transparent parts count as little as they are opaque,
// and blown or sunk ones hardly. Its parts are what the evenness of a photo is told by, and what is divided
// out to even it.
#pragma once

#include <vector>

#include "core/photo/picture_pyramid.h"

namespace juvenor {

/// Brightness (linear, its mean over the opaque part is one) over the picture, coarse.
struct BroadLight {
  int width = 0, height = 0;
  std::vector<float> values;  ///< row by row from the top, above 0
  std::vector<float> opaque;  ///< 0…1: how much there is to tell by
  float scale = 1;            ///< pixels of it a pixel of the picture is

  /// At a place in the picture's pixels; straight between values, and at its edges as there.
  float at(const Vec2& pixel) const;
};

/// What varies more slowly than `broad` parts of the longer side.
BroadLight broadLight(const PicturePyramid& picture, float broad);

/// Linear brightness, ITU-R BT.709.
inline float brightness(const LinearColor& c) {
  return 0.2126f * c.r + 0.7152f * c.g + 0.0722f * c.b;
}

}  // namespace juvenor
