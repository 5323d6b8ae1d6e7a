// A mesh cut into charts: pieces that lie flat well enough, with their borders where they are seen least.
#pragma once

#include "core/progress.h"
#include "core/surface/surface.h"

namespace juvenor {

/// Triangles over welded points, and which triangle lies over each edge (kNone: a border, or an edge of more
/// than two).
struct ChartMesh {
  std::vector<Vec3> positions;
  std::vector<Triangle> triangles;
  std::vector<std::array<uint32_t, 3>> across;  ///< of the edge from each corner to the next
  /// What it costs to go over that edge: as long as the way from middle to middle, more over creases and
  /// where the skin is hidden, so that borders come to lie there.
  std::vector<std::array<float, 3>> cost;
  std::vector<uint32_t> polygon;  ///< of each triangle; those of one polygon stay together
};

/// `hidden`: for each point 0 in the open … 1 closed in; empty: nothing is known.
ChartMesh chartMesh(std::vector<Vec3> positions, std::vector<Triangle> triangles,
                    std::vector<uint32_t> polygon, std::span<const float> hidden);

/// Pieces that hang together, each a list of triangles; the largest first.
std::vector<std::vector<uint32_t>> connectedPieces(const ChartMesh& mesh,
                                                   std::span<const uint32_t> triangles);

/// Two halves of a piece that hangs together, grown from seeds far apart that move to the middle of their
/// half (Lloyd 1982); empty where there is nothing to halve.
std::array<std::vector<uint32_t>, 2> halves(const ChartMesh& mesh, std::span<const uint32_t> piece);

}  // namespace juvenor
