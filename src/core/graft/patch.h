// Which skin a graft is taken from, and how it lies flat: a rectangle or what a lasso encloses by the
// exponential map around its middle, a strip by the way along and across its line.
#pragma once

#include <span>
#include <variant>
#include <vector>

#include "core/result.h"
#include "core/surface/distance/exponential_map.h"

namespace juvenor {

struct PatchRectangle {
  SurfacePoint at;
  Vec3 along = Vec3::UnitX();  ///< where its right side is
  Vec2 half{1, 1};             ///< scene units
};
/// Along a line on the skin.
struct PatchStrip {
  std::vector<Vec3> line;
  uint32_t part = 0;
  float half = 1;  ///< of its width, scene units
};
/// What a closed line on the skin encloses.
struct PatchLasso {
  std::vector<SurfacePoint> loop;
  Vec3 along = Vec3::UnitX();
};
using PatchShape = std::variant<PatchRectangle, PatchStrip, PatchLasso>;

/// Samples and their places on the flat, the middle at 0, x to the right and y up.
struct Patch {
  std::vector<uint32_t> samples;
  std::vector<Vec2> places;   ///< scene units; some lie outside of `half`, as far as the margin
  Vec2 half = Vec2::Ones();   ///< scene units
  std::vector<Vec2> outline;  ///< a lasso's, closed; empty: all of the rectangle
};

/// The error says why there is no such patch. `margin`: how much skin around it is told too (scene units).
Result<Patch> patchOf(const Surface& surface, const PatchShape& shape, float margin);

}  // namespace juvenor
