// What a UV set lays out and how well: its islands and tiles, what lies on top of something else, what is
// turned over, how dense and how stretched the skin lies in it. Stretch is that of Sander, Snyder, Gortler,
// Hoppe 2001 (Texture mapping progressive meshes), tiles are numbered as UDIM has them (common practice).
#pragma once

#include <array>
#include <optional>
#include <vector>

#include "core/progress.h"
#include "core/sculpt/sculpt.h"

namespace juvenor {

/// A triangle of the sculpt with its places in a UV set.
struct UvTriangle {
  std::array<uint32_t, 3> vertices;
  std::array<Vec2, 3> uv;
  uint32_t polygon = 0;
};
/// All triangles of polygons whose corners have finite places in the set; `missing` counts polygons without.
struct UvTriangles {
  std::vector<UvTriangle> triangles;
  size_t missing = 0;
};
UvTriangles uvTriangles(const Sculpt& sculpt, size_t set);

/// 1001 + u + 10 v of the tile a place lies in; none left of 0, right of 10, below 0 or beyond 9999.
std::optional<int> tileOf(const Vec2& uv);

/// Triangles that hang together by edges in the layout.
struct UvIsland {
  uint32_t triangles = 0;
  uint32_t part = 0;      ///< of the sculpt
  double skin = 0;        ///< area, scene units squared
  double area = 0;        ///< in the layout, a tile is 1
  Vec2 low, high;         ///< its bounds in the layout
  bool mirrored = false;  ///< most of it is seen from behind
};

struct UvTile {
  int number = 1001;
  float filled = 0;   ///< part of it that something covers, 0…1
  float doubled = 0;  ///< part of it that is covered more than once
};

struct UvLayout {
  std::vector<UvIsland> islands;  ///< largest in the layout first
  std::vector<UvTile> tiles;      ///< by number
  size_t triangles = 0;
  size_t missing = 0;  ///< polygons without places
  size_t folded = 0;   ///< triangles turned over against the rest of their island
  size_t flat = 0;     ///< triangles without an area in the layout
  size_t outside = 0;  ///< triangles that reach where no tile is
  /// Length in the layout for a length on the skin, 1/scene units: a twentieth of the skin lies thinner than
  /// `thin`, half of it thinner than `middle`, a twentieth denser than `dense`.
  float thin = 0, middle = 0, dense = 0;
  /// 1: lengths keep everywhere. The mean over the skin (L²), and the most any direction anywhere is drawn
  /// out (L∞), both as if the layout had the size of the skin.
  float stretch = 1, worst = 1;
};

/// Pixels of a tile's edge at which covering is counted.
inline constexpr int kLayoutPixels = 1024;

/// The only error is a cancel.
Result<UvLayout> uvLayout(const Sculpt& sculpt, size_t set, const Progress& progress = {});

}  // namespace juvenor
