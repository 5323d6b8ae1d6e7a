// The places of a mesh under the texels of a tile: what the visibility image is for the eye. Where triangles
// lie on top of each other the one with the lowest number is seen.
#pragma once

#include "core/render/picture.h"
#include "core/textures/scan_triangle.h"
#include "core/textures/worn_mesh.h"

namespace juvenor {

/// Rows of texels worked on at a time.
inline constexpr int kBandRows = 16;

class TexelGrid {
 public:
  /// Corners of a triangle in the layout, by number; not finite: it has none.
  using Corners = std::function<std::array<Vec2, 3>(size_t triangle)>;

  /// Sorts the triangles into bands of rows of one tile. `rank`, where given, is what counts as a triangle's
  /// number where several lie on top of each other, in place of its own.
  TexelGrid(int tile, int pixels, size_t triangles, Corners corners, std::span<const uint32_t> rank = {});

  int pixels() const { return pixels_; }
  int bands() const { return static_cast<int>(start_.size()) - 1; }
  /// Rows of a band, from the top of the picture.
  int firstRow(int band) const { return band * kBandRows; }
  int rows(int band) const { return std::min(kBandRows, pixels_ - firstRow(band)); }
  bool empty(int band) const { return start_[band] == start_[band + 1]; }

  /// Triangles and weights at each texel of a band, looked at in `place` of the texel (0…1 from its left and
  /// top).
  void look(int band, const Vec2& place, VisibilityImage& out) const;

 private:
  /// Corners in 256ths of a texel, from the left and the top of the tile.
  std::optional<std::array<FinePlace, 3>> fineCorners(uint32_t triangle) const;

  int pixels_;
  Corners corners_;
  Vec2 origin_;                      ///< of the tile
  std::vector<size_t> start_;        ///< bands + 1 offsets into `triangles_`
  std::vector<uint32_t> triangles_;  ///< of each band, by rank
};

/// Where in a texel so many looks at it go: spread evenly (Hammersley 1960), one in its middle.
Vec2 placeInTexel(int look, int looks);

/// Tiles any triangle lies in, ascending.
std::vector<int> tilesOf(size_t triangles, const TexelGrid::Corners& corners);

}  // namespace juvenor
