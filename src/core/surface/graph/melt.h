// Melting: values flow along the skin as heat does, so that a sharp edge becomes as soft as asked for in
// scene units, whatever the density of points. Wide melting is worked out on a coarser graph and brought
// down again, so that the time does not grow with it.
#pragma once

#include "core/surface/graph/blended_planes.h"

namespace juvenor {

/// The widest cells of a ladder that melting by a deviation makes use of (scene units).
inline float widestMeltCell(float deviation) {
  return deviation / 1.5f;
}

/// Melts `values` (one per node of the finest graph) so that a single spot becomes a bell of standard
/// deviation `deviation` (scene units). The mean over the area is kept (a lone spot's within 2 %),
/// and values stay in their range.
void melt(const SkinLadder& ladder, std::span<float> values, float deviation);

/// The same over one graph.
void melt(const SkinGraph& graph, std::span<float> values, float deviation);

/// What it does to the variance to gather values in cells of a width (scene units) and to read planes blended
/// between the cells: taken off what is melted in between.
float varianceOfCells(float cell);

/// The same for means over the cells of a coarser graph, whose cells are no wider than `widestMeltCell`,
/// and read anywhere over it. `graph` must outlive what is returned.
BlendedPlanes meltedPlanes(const SkinGraph& graph, float cell, std::vector<float> values, float deviation);

}  // namespace juvenor
