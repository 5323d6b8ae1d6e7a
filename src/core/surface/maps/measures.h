// The measures behind the surface maps, each in its own file, in their own units. Plain arrays out, one value
// a sample.
#pragma once

#include "core/surface/graph/skin_graph.h"
#include "core/surface/maps/map_setting.h"
#include "core/surface/rays/rays.h"

namespace juvenor {

/// Rays a sample for the maps that are cast; their noise is melted over neighbouring samples.
inline constexpr int kMapRays = 32;

/// Mean curvature in 1 / scene units, above 0 on ridges and below 0 in hollows, melted along the skin to
/// forms of the size `scale` (scene units, 0: as the mesh gives it). A sphere has 1/r. Open edges count as
/// flat. (mean_curvature.cpp)
Measure meanCurvature(const Surface& surface, const SkinLadder& ladder, float scale,
                      const Progress& progress = {});

/// The cosine-weighted part of the hemisphere over each sample that is blocked within `reach` (scene units,
/// 0: at any distance): 0 open, 1 closed in. (occlusion.cpp)
Measure occlusion(const Rays& rays, float reach, int raysPerSample = kMapRays, const Progress& progress = {});

/// Mean length of the way through the body, in scene units, over a cone of 30° around straight inward; what
/// leaves through an opening counts as `most`, and no way as longer. (thickness.cpp)
Measure thickness(const Rays& rays, float most, int raysPerSample = kMapRays, const Progress& progress = {});

/// The cosine-weighted part of the hemisphere over each sample that sees the sky around `direction` (unit),
/// unblocked: open ground facing it has 1, an open wall ½. (exposure.cpp)
Measure exposure(const Rays& rays, const Vec3& direction, int raysPerSample = kMapRays,
                 const Progress& progress = {});

/// Place between the lowest (0) and the highest (1) sample along `up` (unit). (elevation.cpp)
std::vector<float> elevation(const Surface& surface, const Vec3& up);

/// How far the skin turns toward `direction` (unit): 1 right toward it, ½ across, 0 away. (facing.cpp)
std::vector<float> facing(const Surface& surface, const Vec3& direction);

}  // namespace juvenor
