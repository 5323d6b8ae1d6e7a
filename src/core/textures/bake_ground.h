// What every map of a document is baked from, kept together as long as a bake lasts.
#pragma once

#include "core/textures/bake.h"

namespace juvenor {

/// For which mesh.
struct WornBy {
  std::shared_ptr<const Sculpt> mesh;  ///< another mesh to wear the maps; null: the sculpt itself
  std::optional<Placement> placement;  ///< how that stands; unset: as the sculpt does
  std::optional<float> reach;          ///< scene units its rays go each way; unset: measured
  size_t uvSet = 0;
};

struct BakeGround {
  const Document* document;
  PreparedStack stack;
  ChannelFields skin;
  WornMesh worn;
  std::unique_ptr<const TexelPlaces> places;
  float reach = 0;        ///< scene units; 0: the sculpt itself
  float heightRange = 1;  ///< millimetres either way that heights may have

  MapInput input(NormalsFrom normals, bool greenUp) const;
};

/// The document outlives it. The error names a layer that cannot be worked out, or what is wrong with the
/// mesh.
Result<std::unique_ptr<BakeGround>> bakeGround(const Document& document, const WornBy& by, bool tangents,
                                               const Progress& progress = {});

}  // namespace juvenor
