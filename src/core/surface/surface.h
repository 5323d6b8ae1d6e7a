// The samples that hold colour: every vertex of the sculpt (coincident ones of a part joined) and any added
// between them, in the order of a Hilbert curve so that near samples lie near in memory. Immutable; refining
// gives a new one.
#pragma once

#include <array>
#include <cstdint>
#include <memory>
#include <span>
#include <vector>

#include "core/progress.h"
#include "core/sculpt/sculpt.h"

namespace juvenor {

using Triangle = std::array<uint32_t, 3>;

/// Samples of a box in the search tree: `kBlockSize` neighbours on the curve.
inline constexpr size_t kBlockSize = 256;

struct Surface {
  std::vector<Vec3> positions;           ///< scene units
  std::vector<Vec3> normals;             ///< unit, area-weighted
  std::vector<float> areas;              ///< a third of the area of the triangles around, scene units squared
  std::vector<uint32_t> parts;           ///< part of each sample
  std::vector<uint32_t> neighborStart;   ///< samples + 1 offsets into `neighbors`
  std::vector<uint32_t> neighbors;       ///< samples joined by an edge
  std::vector<Triangle> triangles;       ///< samples; none degenerate in its indices
  std::vector<uint32_t> triangleParts;   ///< part of each triangle
  std::vector<uint32_t> sampleOfVertex;  ///< which sample each vertex of the sculpt is
  std::vector<Box> blocks;               ///< bounds of every 256 samples
  std::vector<Box> groups;               ///< bounds of every 16 blocks
  Box bounds;
  float spacing = 0;  ///< mean edge length, scene units
  /// From the sculpt's own axes to those of the positions; see placement.h.
  Eigen::Matrix3f turn = Eigen::Matrix3f::Identity();
  uint32_t partCount = 1;

  size_t size() const { return positions.size(); }
  std::span<const uint32_t> neighborsOf(size_t s) const {
    return std::span(neighbors).subspan(neighborStart[s], neighborStart[s + 1] - neighborStart[s]);
  }
};

/// How far rays that start on the surface are lifted off it (scene units), so that they do not meet the place
/// they come from.
inline float liftOf(const Surface& surface) {
  return 0.05f * surface.spacing + 1e-6f * surface.bounds.diagonal();
}

/// Memory of a surface's arrays.
size_t bytesOf(const Surface& surface);

/// The surface of a sculpt. Degenerate faces, non-manifold edges, triangle soup and loose vertices are fine.
/// `sculptTriangle`, where given, receives which triangle of the sculpt (each_triangle.h) each of the surface
/// is.
Result<std::shared_ptr<const Surface>> buildSurface(const Sculpt& sculpt, const Progress& progress = {},
                                                    std::vector<uint32_t>* sculptTriangle = nullptr);

/// Loose points and triangles over them, in any order: what build and refine have in common.
struct TriangleSoup {
  std::vector<Vec3> positions;
  std::vector<uint32_t> parts;  ///< per position
  std::vector<Triangle> triangles;
  std::vector<uint32_t> triangleParts;
};

/// Joins coincident points of a part, orders them along the curve and measures them. `sampleOf` receives the
/// sample of each point of the soup, `soupTriangle` (may be null) which of its triangles each of the surface
/// is.
Surface surfaceOf(TriangleSoup soup, std::vector<uint32_t>& sampleOf,
                  std::vector<uint32_t>* soupTriangle = nullptr);

/// Position on the Hilbert curve of a point with 16 bits an axis (Skilling 2004, transposed form).
uint64_t hilbertIndex(uint32_t x, uint32_t y, uint32_t z);

}  // namespace juvenor
