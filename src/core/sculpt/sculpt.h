// The imported shape, exactly as its file gave it: vertices, polygons of any size, parts, UVs and colours in
// file order. Nothing in the program changes a Sculpt once it is read.
#pragma once

#include <cstdint>
#include <limits>
#include <memory>
#include <span>
#include <string>
#include <vector>

#include "core/color/srgb.h"
#include "core/result.h"
#include "core/vec.h"

namespace juvenor {

inline constexpr uint32_t kNone = std::numeric_limits<uint32_t>::max();

/// One UV set. `corner` has an index into `coordinates` for every polygon corner, or kNone.
struct UvSet {
  std::string name;
  std::vector<Vec2> coordinates;
  std::vector<uint32_t> corner;
};

struct BroughtMaterials;  // material.h

struct Sculpt {
  std::string name;
  std::vector<Vec3> vertices;  ///< scene units, as in the file less `offset`
  /// Where the origin of `vertices` lies in the file; only a sculpt far from its origin has one, so that its
  /// coordinates keep what the file's own numbers hold.
  Eigen::Vector3d offset = Eigen::Vector3d::Zero();
  std::vector<Vec3> normals;  ///< per vertex as the file gave them (unit, or zero where it did not), or empty
  std::vector<uint32_t> polygonStart;  ///< polygons + 1 offsets into `corners`
  std::vector<uint32_t> corners;       ///< vertex indices
  std::vector<uint32_t> polygonPart;   ///< index into `parts`, one per polygon
  std::vector<std::string> parts;      ///< names, at least one
  std::vector<UvSet> uvSets;
  std::vector<Rgba16> colors;  ///< per vertex, straight alpha 1, or empty when the file has none
  /// Textures of its file, for who opens it; documents do not keep them. Null: none.
  std::shared_ptr<const BroughtMaterials> materials;
  std::vector<std::string> remarks;  ///< what the reader left out, for the person who opened the file

  size_t polygonCount() const { return polygonStart.empty() ? 0 : polygonStart.size() - 1; }
  std::span<const uint32_t> polygon(size_t i) const {
    return std::span(corners).subspan(polygonStart[i], polygonStart[i + 1] - polygonStart[i]);
  }
};

/// Gives a sculpt vertices that were read in double, taking an offset out when they lie far from the origin.
void placeVertices(Sculpt& sculpt, const std::vector<Eigen::Vector3d>& positions);
/// The same for vertices that are there already, from a file with floats.
void placeVertices(Sculpt& sculpt);

/// Checks every rule a reader must keep (indices in range, finite vertices, equal lengths, at least one
/// polygon) and fills in a part when there is none. The error names the first vertex or polygon that breaks a
/// rule.
Outcome finishSculpt(Sculpt& sculpt, const std::string& where);

/// The part each vertex belongs to: that of the first polygon using it, 0 when none does.
std::vector<uint32_t> partOfVertices(const Sculpt& sculpt);

/// Cuts one polygon of `corners.size()` ≥ 3 corners into corner count − 2 triangles, in the polygon's
/// winding. Quads take the diagonal that stays inside; larger ones lose ears one by one (Meisters 1975) in
/// the plane of their Newell normal. Results are positions 0…n−1 within the polygon.
void triangulate(std::span<const Vec3> vertices, std::span<const uint32_t> corners,
                 std::vector<std::array<uint32_t, 3>>& out);

/// The same for a polygon of four corners.
std::array<std::array<uint32_t, 3>, 2> halvesOfQuad(std::span<const Vec3> vertices,
                                                    std::span<const uint32_t> corners);

}  // namespace juvenor
