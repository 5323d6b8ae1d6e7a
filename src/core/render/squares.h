// Numbered squares of equal size in a layout: where skin is stretched or unevenly dense they show it.
#pragma once

#include "core/vec.h"

namespace juvenor {

/// The grey of a place in the layout, 0…1: light and dark squares in turn, each with its number within the
/// tile, from 0 at the left bottom, row by row.
float greyOfSquare(const Vec2& uv);

}  // namespace juvenor
