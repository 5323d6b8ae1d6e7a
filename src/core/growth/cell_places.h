// Where every sample lies in the cells that cover the skin: in which, where in it, and how far from its
// border. Cells lie side by side, each as far as it is the nearest in its own measure, or over one another
// like leaves, each over those that come after it along the way it lies.
#pragma once

#include <span>

#include "core/growth/skin_cells.h"

namespace juvenor {

/// Leaves that lie over one another.
struct LeafShape {
  float length = 1.1f;  ///< from the middle to the tip, in lengths of a cell
  float point = 0.4f;   ///< 0 a round tip … 1 a pointed one
};

struct CellPlaces {
  struct Place {
    uint32_t cell = kNone;  ///< kNone: the sample lies in no cell
    int16_t along = 0;      ///< 4096 is a length from the middle
    int16_t across = 0;     ///< 4096 is a width
    uint16_t edge = 0;      ///< 0 at the border … 32768 in the middle of an even cell, no more than 65535
    uint8_t corner = 255;   ///< of cells side by side: how far the next corner is; 255: half a width or more
    uint8_t cornerKey = 0;  ///< random bits of that corner's own, the same in every cell that meets there
  };
  static constexpr float kUnit = 4096, kEdge = 32768, kCorner = 255;  ///< the last: half a width

  std::vector<Place> of;  ///< one a sample
};

/// In which chunks of samples the places of each cell lie.
class CellChunks {
 public:
  CellChunks() = default;
  CellChunks(const CellPlaces& places, size_t cells);
  /// Ascending.
  std::span<const uint32_t> of(uint32_t cell) const {
    return std::span(chunks_).subspan(start_[cell], start_[cell + 1] - start_[cell]);
  }
  size_t bytes() const { return sizeof(uint32_t) * (start_.size() + chunks_.size()); }

 private:
  std::vector<uint32_t> start_, chunks_;
};

/// Cells side by side.
Result<CellPlaces> tiledPlaces(const Surface& surface, const CellGround& ground, const SkinCells& cells,
                               const Progress& progress = {});
/// Cells over one another. The edge of one is how far it has come out from under those over it, but for a
/// narrow rim of its own. Where none covers a sample it lies in the nearest, with edge 0.
Result<CellPlaces> leafPlaces(const Surface& surface, const CellGround& ground, const SkinCells& cells,
                              const LeafShape& shape, const Progress& progress = {});

/// How high a leaf lies at a place in it: the farther back its middle, the higher; in a row it is chance.
float heightInPile(const SkinCell& cell, const Vec2& place);

/// How far inside a leaf a place is (a length along, a width across from its middle): 0 at its outline, about
/// 1 in its middle, below 0 outside.
float insideLeaf(const LeafShape& shape, const Vec2& place);

}  // namespace juvenor
