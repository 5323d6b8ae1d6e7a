// The skin laid flat by a UV set: another eye's surface. Its mesh has the triangle numbers of the skin, so
// visibility, shading, picking and strokes work on it unchanged. What lies on top of something else in the
// layout is seen where its island has the lowest triangle.
#pragma once

#include "core/render/picture.h"

namespace juvenor {

struct Sheet {
  /// Where samples of a block lie: one patch for every island they are in.
  struct Patch {
    uint32_t island = 0;
    Box box;
  };

  std::shared_ptr<const Surface> skin;
  /// Positions are (u, v, the island's height); triangles without places have no area. Only what rays and
  /// shading need is filled in.
  std::shared_ptr<const Surface> flat;
  RaysPointer rays;  ///< of `flat`
  std::vector<uint8_t>
      borders;  ///< of each triangle the edges at which an island ends, as PolygonLines has them
  std::vector<size_t> patchStart;  ///< blocks of samples + 1 offsets into `patches`
  std::vector<Patch> patches;
  std::vector<int> tiles;  ///< that anything lies in, by number
};
using SheetPointer = std::shared_ptr<const Sheet>;

/// A camera from straight above; its target is (u, v, 0).
Camera sheetCamera();
/// The camera moved so that a tile fills most of the picture.
Camera framedTile(const Camera& camera, const ViewSize& size, int tile);
/// The left bottom corner of a tile.
Vec2 cornerOfTile(int tile);

/// Where a place of the skin lies in the sheet; nothing where it has no place there.
std::optional<Vec2> placeOnSheet(const Sheet& sheet, const SurfacePoint& at);

/// The smallest rectangles that hold all pixels showing samples of the chunks: one for every island.
std::vector<PixelRect> rectsOfChunks(const Sheet& sheet, const Camera& camera, const ViewSize& size,
                                     std::span<const uint32_t> chunks);

}  // namespace juvenor
