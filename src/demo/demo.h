// The sculpts and documents the program is shown with. All made up, all seeded: the same bytes every time.
#pragma once

#include <optional>
#include <string_view>

#include "core/document/document.h"
#include "core/view/camera.h"
#include "demo/isosurface.h"

namespace juvenor::demo {

/// ByPhotos is the keeper once more, coloured by pictures of him; OlderKeeper his head thirty years on, bare,
/// to carry his colours over to.
enum class Figure { Ferryman, Keeper, ByPhotos, OlderKeeper };
std::string_view figureKey(Figure figure);
std::optional<Figure> figureFromKey(std::string_view key);

/// A piece of a figure as clay: a distance, fine relief, and the box it lies in. Millimetres, y up, z to the
/// front.
struct Piece {
  std::string name;
  Distance distance;
  Distance relief;
  Box box;
};
/// For points about `spacing` apart: relief that is finer is left away.
std::vector<Piece> ferrymanPieces(float spacing);
std::vector<Piece> keeperPieces(float spacing);
std::vector<Piece> olderKeeperPieces(float spacing);
/// Where a place of the keeper's head is when he is older, and where it was.
Vec3 olderPlace(const Vec3& place);
Vec3 youngerPlace(const Vec3& place);

/// The figure as a sculpt of about `points` vertices, in quads, a part per piece.
Result<Sculpt> makeSculpt(Figure figure, size_t points, const Progress& progress = {});

/// Where the landmarks of a figure lie; a creature has none.
std::vector<Landmark> landmarksOf(Figure figure);

/// A picture for the board: mottled mud-bank skin, a flushed gill, a weathered cheek; the cheek once more in
/// light from a side, the gill out of focus.
struct DemoPicture {
  std::string name;
  ViewSize size;
  std::vector<uint32_t> pixels;  ///< 0xAARRGGBB
};
std::vector<DemoPicture> boardPictures();

/// A document over a figure's sculpt with its first layers laid and pictures on its board, ready to paint.
/// Measures the surface maps its layers use.
Result<Document> dressed(Figure figure, std::shared_ptr<const Sculpt> sculpt,
                         std::shared_ptr<const Surface> surface, const Progress& progress = {});

/// The keeper gets UVs of his own, so that maps and the sheet can be tried at once; others stay as they are.
Result<Document> laidOut(Figure figure, Document document, const Progress& progress = {});

/// A dressed head's bare sculpt with photos of it thrown on (by_photos.cpp).
Result<Document> byPhotos(const Document& head, const Progress& progress = {});

}  // namespace juvenor::demo
