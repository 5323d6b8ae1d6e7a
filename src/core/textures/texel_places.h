// From the texels of a tile to places of the skin: straight, where the sculpt wears the map itself, or by
// rays from another mesh.
#pragma once

#include "core/textures/onto_mesh.h"
#include "core/textures/texel_grid.h"
#include "core/textures/texel_map.h"

namespace juvenor {

class TexelPlaces {
 public:
  /// A texel of a band, row by row; null: its mesh is there, but no skin was found under it.
  using Take = std::function<void(size_t texel, const TexelPlace* place)>;

  virtual ~TexelPlaces() = default;
  virtual std::vector<int> tiles() const = 0;
  virtual TexelGrid grid(int tile, int pixels) const = 0;
  /// What the texels of a band see of the skin, looked at in `place` of each texel. Any thread may ask.
  virtual void look(const TexelGrid& grid, int band, const Vec2& place, const Take& take) const = 0;
};

/// Of the sculpt's own layout; both outlive it. Where islands lie on top of each other the triangle that
/// comes first in the sculpt's file is the one that counts.
std::unique_ptr<const TexelPlaces> placesOnSculpt(const WornMesh& sculpt, SkinLayout layout,
                                                  const Surface& surface);
/// Of another mesh; what `onto` stands on outlives it.
std::unique_ptr<const TexelPlaces> placesOnMesh(const WornMesh& mesh, OntoMesh onto, const Surface& surface);

}  // namespace juvenor
