// More samples on the same flat surface, where vertices are too sparse to paint. Edges are cut at their
// middle; whether an edge is cut depends on the edge alone, so no cracks can appear (the regular 1:4 split
// when all three are cut, bisection otherwise; cf. Bank, Sherman, Weiser 1983; Rivara 1984 for cutting the
// longest edge first).
#pragma once

#include "core/surface/surface.h"

namespace juvenor {

/// How a new sample's value comes from three samples of the surface before: indices and weights that sum
/// to 1.
struct Origin {
  std::array<uint32_t, 3> sample{};
  std::array<float, 3> weight{};
};

struct Refined {
  std::shared_ptr<const Surface> surface;
  std::vector<Origin> origins;  ///< one per sample of the new surface
};

/// More samples than any machine this is made for can hold beside everything else.
inline constexpr size_t kMostSamples = 40'000'000;

/// Every triangle into four, once. Refuses above `mostSamples`.
Result<Refined> refineOnce(const Surface& surface, size_t mostSamples = kMostSamples,
                           const Progress& progress = {});

/// Cuts edges longer than 4/3 of `spacing` (scene units) until none is left. Refuses above `mostSamples`.
Result<Refined> refineTo(const Surface& surface, float spacing, size_t mostSamples = kMostSamples,
                         const Progress& progress = {});

}  // namespace juvenor
