// Cells that cover the skin like scales: each has a place, a way it lies and a width, and what is nearest to
// it in its own measure belongs to it. They are relaxed to even ones (centroidal Voronoi cells: Lloyd 1982;
// Du, Faber, Gunzburger 1999; each with its own anisotropic measure as in Du, Wang 2005), and, if so wished,
// drawn into staggered rows across the way they lie. They know their neighbours along the skin alone, so that
// none reaches over a gap.
#pragma once

#include <cmath>
#include <string>
#include <string_view>

#include "core/growth/skin_seeds.h"
#include "core/progress.h"
#include "core/surface/graph/skin_level.h"

namespace juvenor {

struct SkinCell {
  Vec3 position;       ///< on the skin
  Vec3 normal, along;  ///< unit; `along` lies in the skin
  float width;         ///< across, from neighbour to neighbour, scene units
  float length;        ///< the same along
  uint32_t node;       ///< of the level it was found on, next to it
  uint32_t key;        ///< random bits of its own

  /// Where a point near it lies, in its widths and lengths: x along, y across; as far from the middle as in
  /// space, since skin that bends is longer than its shadow.
  Vec2 placeOf(const Vec3& point) const {
    const Vec3 away = point - position;
    const Vec2 flat = shadowOf(away);
    return std::sqrt(stretch2(away, flat)) * Vec2(flat.x() / length, flat.y() / width);
  }
  /// The square of how far that is.
  float measureTo(const Vec3& point) const {
    const Vec3 away = point - position;
    const Vec2 flat = shadowOf(away);
    const float x = flat.x() / length, y = flat.y() / width;
    return stretch2(away, flat) * (x * x + y * y);
  }

 private:
  Vec2 shadowOf(const Vec3& away) const { return {away.dot(along), away.dot(normal.cross(along))}; }
  // By which skin is longer than its shadow, squared; no more than twice.
  static float stretch2(const Vec3& away, const Vec2& flat) {
    const float flat2 = flat.squaredNorm(), far2 = away.squaredNorm();
    return far2 > 4 * flat2 ? 4.f : flat2 > 0 ? far2 / flat2 : 1.f;
  }
};

/// The nodes of a level with what cells need to know of each.
struct CellGround {
  SkinLevel level;
  std::vector<Vec3> normals;  ///< unit
  std::vector<Vec3> along;    ///< unit, in the skin
  std::vector<float> widths;  ///< of cells there, scene units; 0: there are none
};

/// `directions` and `widths`: one a sample. The level is fine enough for cells of `finest`.
CellGround cellGround(const Surface& surface, const std::shared_ptr<const SkinLadder>& ladder,
                      std::span<const Vec3> directions, std::span<const float> widths, float finest);

struct CellSetting {
  float stretch = 1;   ///< length by width
  float rows = 0;      ///< 0 as they fall … 1 in staggered rows
  float large = 0;     ///< 0…1: the part of cells that are large ones, with small ones between
  float small = 0.4f;  ///< of the large ones' width: how wide those are
  int rounds = 8;      ///< of relaxing
  bool thrown = true;  ///< seeds keep their distance from the start; false: they fall as they may, quickly
  uint32_t seed = 1;
};

/// As documents keep them: how many, then all of them.
void keepCells(std::span<const SkinCell> cells, std::string& out);
/// Takes them from the front of `bytes`; false where they do not hold.
bool takeCells(std::string_view& bytes, std::vector<SkinCell>& out);

/// Cells over all skin that has any, and how they lie together.
struct SkinCells {
  std::vector<SkinCell> cells;
  std::vector<uint32_t> owners;  ///< the cell of each node of the ground; kNone where there is none

  /// Those that share a border with a cell.
  std::span<const uint32_t> around(size_t cell) const {
    return std::span(neighbors).subspan(start[cell], start[cell + 1] - start[cell]);
  }
  std::vector<uint32_t> start, neighbors;
};

/// Even cells. The error says why there can be none, or that it was cancelled.
Result<SkinCells> skinCells(SurfaceMaps& maps, const CellGround& ground, const CellSetting& setting,
                            const Progress& progress = {});

}  // namespace juvenor
