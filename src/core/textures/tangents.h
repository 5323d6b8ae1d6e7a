// Tangents that every program works out alike, so that a normal map baked here looks right elsewhere: the
// scheme of Mikkelsen 2008 (Simulation of wrinkled surfaces revisited, master's thesis; known as MikkTSpace).
#pragma once

#include "core/textures/worn_mesh.h"

namespace juvenor {

/// One triangle's corners as the scheme sees them.
struct TangentCorner {
  Vec3 position, normal;
  Vec2 uv;  ///< v goes up
};

/// A tangent for each corner of each triangle. Corners that are the same to the bit share theirs where their
/// triangles hang together and lie the same way round in the layout.
std::vector<std::array<Tangent, 3>> tangents(std::span<const std::array<TangentCorner, 3>> triangles);

/// Those of a mesh; corners without a place in the layout get some tangent.
std::vector<std::array<Tangent, 3>> tangentsOf(const WornMesh& mesh);

}  // namespace juvenor
