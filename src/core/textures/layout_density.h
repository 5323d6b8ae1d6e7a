// How finely a layout holds the points of a skin: texels across the distance of two points, everywhere and by
// part.
#pragma once

#include "core/render/sheet.h"
#include "core/surface/field.h"

namespace juvenor {

struct LayoutDensity {
  /// Of a map of `pixels` a side: 0 a quarter of a texel or less from point to point … 1 four or more, by
  /// doublings; a half is one texel. Samples without a place have 0.
  ScalarField texels;
  /// The fewest pixels a side (a power of two up to 16,384) that hold 19 of 20 points; 0: more than these.
  int holdsAll = 0;
  /// Of each part texels for a length on the skin, over those of the densest; 0 where it has no place.
  std::vector<float> parts;
};

/// Pixels: of a tile's edge.
LayoutDensity layoutDensity(const Sheet& sheet, int pixels);

}  // namespace juvenor
