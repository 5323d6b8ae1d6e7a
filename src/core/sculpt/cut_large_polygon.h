// Polygons of thousands of corners (caps, flat grounds) cut into triangles.
#pragma once

#include <Eigen/Core>
#include <array>
#include <cstdint>
#include <vector>

namespace juvenor {

/// Appends the triangles of a polygon that runs counter-clockwise in the plane, as numbers of its corners.
/// Takes about n log n for polygons as they come; a self-crossing one is cut somehow, always into n − 2.
void cutLargePolygon(const std::vector<Eigen::Vector2d>& corners, std::vector<std::array<uint32_t, 3>>& out);

}  // namespace juvenor
