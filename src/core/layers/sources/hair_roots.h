// Where fibres stand: spread over the skin, or in rows along edges.
#pragma once

#include "core/layers/sources/hair.h"

namespace juvenor {

/// No more than so many stand on a sculpt, grown or not.
inline constexpr size_t kMostRoots = 1'500'000;

/// How far apart they stand on a surface: as asked for, unless they would be too many.
float rootsApart(const Surface& surface, float apart);

/// Over all the skin; remembered by `maps`.
Result<std::shared_ptr<const std::vector<HairRoot>>> rootsOver(SurfaceMaps& maps, float apart, uint32_t seed,
                                                               const Progress& progress = {});
bool hasRootsOver(SurfaceMaps& maps, float apart, uint32_t seed);

/// Along edges, scattered over their width.
Result<std::shared_ptr<const std::vector<HairRoot>>> rootsAlong(SurfaceMaps& maps,
                                                                std::span<const SkinStroke> edges,
                                                                float apart, uint32_t seed,
                                                                const Progress& progress = {});

}  // namespace juvenor
