// The mesh that wears texture maps: the sculpt itself, or another one that was made for it. Triangles are
// numbered as each_triangle.h has them.
#pragma once

#include <optional>

#include "core/document/document.h"

namespace juvenor {

using Tangent = Eigen::Vector4f;  ///< a unit vector, and the side the bitangent lies on: 1 or −1

struct WornMesh {
  std::vector<Vec3> positions;  ///< of each vertex, as the skin stands
  std::vector<Vec3> normals;    ///< unit; what it is shaded with
  std::vector<Vec3> outward;    ///< unit, smooth over hard edges too: where rays to the skin go
  std::vector<Triangle> triangles;
  std::vector<std::array<Vec2, 3>> uv;  ///< of each triangle's corners; not finite where there is none
  std::vector<std::array<Tangent, 3>> tangents;  ///< the same; empty until they are asked for
  std::vector<uint32_t> parts;                   ///< of each triangle
  std::vector<std::string> partNames;

  bool laidOut(size_t triangle) const {
    return uv[triangle][0].allFinite() && uv[triangle][1].allFinite() && uv[triangle][2].allFinite();
  }
};

/// A document's own sculpt, with the normals it is exported with.
WornMesh wornSculpt(const Document& document, size_t uvSet);
/// Another mesh beside a document's skin: `placement` says which of its axes are up and front and how long
/// its unit is, and the origins of both files are one place. The error: it has no such UV set, or it stands
/// where no skin is.
Result<WornMesh> wornMesh(const Sculpt& mesh, size_t uvSet, const Placement& placement,
                          const Document& document, const Progress& progress = {});

/// Where the triangles of a document's surface lie in those of its sculpt.
struct SkinLayout {
  std::vector<uint32_t> sculptTriangle;  ///< one a triangle of the surface
  /// Weights of the second and third corner of that triangle at each of the surface's corners; empty where
  /// no points were added: they are its own.
  std::vector<std::array<Vec2, 3>> within;
};
/// Refined surfaces are refined again to know; that takes as long as opening the document.
Result<SkinLayout> skinLayout(const Document& document, const Progress& progress = {});

/// Values at the corners of a triangle of the sculpt as they are at a corner of a triangle of its surface.
template <class T>
T atCorner(const std::array<T, 3>& values, const SkinLayout& layout, size_t triangle, size_t corner) {
  if (layout.within.empty()) return values[corner];
  const Vec2& w = layout.within[triangle][corner];
  return T((1 - w.x() - w.y()) * values[0] + w.x() * values[1] + w.y() * values[2]);
}

}  // namespace juvenor
