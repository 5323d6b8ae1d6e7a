// How a layout draws the skin out: the stretch of Sander, Snyder, Gortler, Hoppe 2001 (Texture mapping
// progressive meshes, section 3).
#pragma once

#include <array>

#include "core/surface/surface.h"

namespace juvenor {

/// Squares of the largest and the mean stretch of a triangle, from the layout to the skin: the singular
/// values of the map's derivatives. `area`: signed, in the layout, not 0.
struct TriangleStretch {
  double most2, mean2;
};
TriangleStretch stretchOf(const std::array<Vec3, 3>& points, const std::array<Vec2, 3>& uv, double area);

/// Over all triangles that have a place and an area there: L², as if the layout had the size of the skin (1:
/// lengths keep everywhere), and their area in the layout.
struct LayoutStretch {
  float mean = 1;
  double area = 0;
};
LayoutStretch stretchOf(std::span<const Vec3> positions, std::span<const Triangle> triangles,
                        std::span<const std::array<Vec2, 3>> corners);

}  // namespace juvenor
