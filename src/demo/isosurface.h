// Quads over the zero of a signed distance: naive surface nets (Gibson 1998) on a sparse grid, each vertex
// then moved onto the zero along the gradient. The same bytes whatever the number of cores.
#pragma once

#include <functional>
#include <vector>

#include "core/progress.h"
#include "core/vec.h"

namespace juvenor::demo {

using Distance = std::function<float(const Vec3&)>;

struct Quads {
  std::vector<Vec3> vertices;
  std::vector<std::array<uint32_t, 4>> quads;  ///< counter-clockwise from outside
};

/// The zero of `distance` inside `box`, with cells of size `cell`. The grid is laid around x = 0, so that a
/// shape that is its own mirror image gives a mesh that is. `displace` (may be empty) moves each vertex
/// outward by its value.
Result<Quads> isosurface(const Distance& distance, const Box& box, float cell, const Distance& displace,
                         const Progress& progress = {});

/// About how many vertices the mesh would have, from a coarse pass.
double estimateVertices(const Distance& distance, const Box& box, float cell);

}  // namespace juvenor::demo
