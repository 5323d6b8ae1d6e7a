// What a photo is worth before it touches skin: how sharp it really is, how even its light is, and how much
// of it is blown out or sunk in the dark. Common practice: a photo must be large and evenly lit, or its blur
// and its shadows end up on the skin.
#pragma once

#include <string_view>

#include "core/photo/picture_pyramid.h"

namespace juvenor {

struct PhotoMeasures {
  /// What its finest octave holds next to the one above, 0 nothing … about 1 as much, as sharp photos of skin
  /// have it (pictures of nature hold about as much in every octave: Field 1987).
  float sharpness = 0;
  /// Its longer side in pixels if it were no larger than it is sharp.
  int worth = 0;
  float unevenness = 0;  ///< stops (doublings of light) its broad light varies by, one deviation either way
  float broadShare = 0;  ///< 0…1: how much of all its variation that is
  Vec2 brightSide =
      Vec2::Zero();           ///< where the light comes from: x right, y up, stops over half the long side
  float blown = 0, sunk = 0;  ///< 0…1 of the opaque part
};

PhotoMeasures measured(const PicturePyramid& picture);

/// How one says it.
enum class PhotoWord { Good, Fair, Poor };
PhotoWord sharpnessWord(const PhotoMeasures& m);
PhotoWord evennessWord(const PhotoMeasures& m);
/// Blown and sunk parts together.
PhotoWord rangeWord(const PhotoMeasures& m);

}  // namespace juvenor
