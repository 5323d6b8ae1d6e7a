// A picture held between the eye and the sculpt: paint goes through where it is, or takes its colours.
#pragma once

#include "core/brush/footprint.h"
#include "core/brush/stamp.h"

namespace juvenor {

struct Stencil {
  StampPointer picture;
  /// From places in the scene (and 1) to the picture, as (x, y, w): x/w and y/w as Stamp::at takes them, w
  /// above 0 before the eye.
  Eigen::Matrix<float, 3, 4> toPicture = Eigen::Matrix<float, 3, 4>::Zero();
  bool ownColors = false;  ///< lays the picture's colours in place of the pen's
  bool inverted = false;   ///< paint goes where the shape is not, and beside the picture
};

/// Weakens a dab's weights by what the stencil lets through, and brings its colours. A mirrored dab looks at
/// the stencil from the side the pen is on.
void holdThrough(const Stencil& stencil, const Surface& surface, const Dab& dab, Footprint& footprint);

}  // namespace juvenor
