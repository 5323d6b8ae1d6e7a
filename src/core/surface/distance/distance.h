// Distance along the skin from a place or from a set of samples, never through the air: two lips, two fingers
// or two plates a hair apart stay apart. Fast marching (Sethian 1996; Kimmel, Sethian 1998) runs over
// the triangles; inside each one it is carried on as a circle around the source unfolded into the plane of
// the triangle (Novotni and Klein 2002), which is exact on flat and developable skin, or from a rim as a
// straight line.
#pragma once

#include <span>
#include <vector>

#include "core/surface/graph/skin_edges.h"
#include "core/surface/sparse_values.h"

namespace juvenor {

/// Samples within a reach, and how far each is (scene units).
using Distances = SparseValues;

/// From a place on or near the surface, as far as `reach`. The place is tied to the nearest sample of `part`
/// (kNone: of any part) within `reach`; nothing when there is none.
Distances distancesFrom(const Surface& surface, const Vec3& place, uint32_t part, float reach);

/// The nearest where several overlap.
Distances nearest(std::vector<Distances> several);

/// A place on or near the skin to measure from, and the sample or node it is tied to.
struct DistanceSource {
  Vec3 place;
  uint32_t nearest = 0;
};
/// From the nearest of several sources, as far as `reach`.
Distances distancesFrom(const SkinEdges& skin, std::span<const DistanceSource> sources, float reach);

/// A sample the front starts from, and how far it is already (scene units).
struct DistanceSeed {
  uint32_t sample = 0;
  float distance = 0;
};
/// From the nearest of many samples, as far as `reach`.
Distances distancesFrom(const SkinEdges& skin, std::span<const DistanceSeed> seeds, float reach);

}  // namespace juvenor
