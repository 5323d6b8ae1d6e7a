// Pieces of a mesh laid flat, halved again and again where they do not lie well; and small charts joined to
// their neighbours again.
#pragma once

#include "core/textures/flatten.h"

namespace juvenor {

/// Triangles that hang together, and where some of their points lie flat, or null.
struct ChartPiece {
  std::vector<uint32_t> triangles;
  std::shared_ptr<const KnownPlaces> known;
};
using Pieces = std::vector<ChartPiece>;

/// Flat charts of all triangles of the pieces, none stretched more than `mostStretch` (L²) unless it is a
/// single polygon; in the order of their first triangles. An error when cancelled.
Result<std::vector<FlatChart>> cutFlat(const ChartMesh& mesh, Pieces pieces, float mostStretch,
                                       const Progress& progress = {});

/// Charts of fewer than `small` triangles become part of the neighbour they share most of their border with,
/// where both lie flat as one.
Result<std::vector<FlatChart>> withSmallJoined(const ChartMesh& mesh, std::vector<FlatChart> charts,
                                               size_t small, float mostStretch,
                                               const Progress& progress = {});

/// Charts beside a chart's triangles, those with the longest common border first. `chartOf`: of every
/// triangle.
std::vector<uint32_t> chartsBeside(const ChartMesh& mesh, std::span<const uint32_t> triangles,
                                   std::span<const uint32_t> chartOf);
std::vector<uint32_t> smallestFirst(std::span<const FlatChart> charts);

}  // namespace juvenor
