// A chart of a mesh laid flat: a first map on a circle without folds (Tutte 1963, Floater 1997), or through
// places that are known from a coarser mesh; then as rigid as possible (Liu, Zhang, Xu, Gotsman, Gortler
// 2008), never further than that nothing folds.
#pragma once

#include <unordered_map>

#include "core/textures/charts.h"

namespace juvenor {

/// A chart in a plane, in the mesh's own unit of length.
struct FlatChart {
  std::vector<uint32_t> triangles;           ///< of the mesh
  std::vector<std::array<Vec2, 3>> corners;  ///< of each
  float stretch = 1;                         ///< L² of Sander 2001, over its area
  double skin = 0, area = 0;                 ///< on the mesh, in the plane
};

/// Where some points of a mesh lie in a plane, about.
using KnownPlaces = std::unordered_map<uint32_t, Vec2>;

/// Nothing where it cannot be laid flat well: it is closed or has a handle, triangles turn over, it lies over
/// itself, or its stretch is above `most`. `known`: where to begin; null: nothing is known. `over`, where
/// given, receives the triangles that lie over others when all the rest is well.
std::optional<FlatChart> flattened(const ChartMesh& mesh, std::span<const uint32_t> chart, float most,
                                   const KnownPlaces* known = nullptr, std::vector<uint32_t>* over = nullptr);

/// The triangles that cover a pixel of a picture of a chart which one before them has covered.
std::vector<uint32_t> overOthers(const FlatChart& chart);

/// A polygon seen along its normal; what cannot be laid flat at all ends so.
FlatChart projected(const ChartMesh& mesh, std::span<const uint32_t> polygon);

}  // namespace juvenor
