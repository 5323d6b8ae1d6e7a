// Where the points of a skin lie in a layout, and how much of it each covers.
#pragma once

#include "core/textures/worn_mesh.h"

namespace juvenor {

struct SamplePlace {
  uint32_t sample = 0;
  Vec2 uv = Vec2::Zero();
  /// Along the rims of islands: the way inward, as far as its triangles go.
  Vec2 inward = Vec2::Zero();
  Vec2 along = Vec2::Zero();          ///< half its width the way it is widest
  float across = 0;                   ///< and across
  float width = 0;                    ///< all of it the way it is widest, at rims too
  Tangent tangent = Tangent::Zero();  ///< in the scene; where the mesh has tangents
};

struct SamplePlaces {
  std::vector<SamplePlace> places;  ///< by sample; some lie in several places, where the layout is cut
  std::vector<uint32_t> start;      ///< samples + 1 offsets into it; a sample may have no place at all
};
SamplePlaces samplePlaces(const Surface& surface, const WornMesh& worn, const SkinLayout& layout);

/// A place as texels of that width (layout units) are to be asked: on a cut half a texel inside, where the
/// map is not mixed with what lies beyond.
inline Vec2 askedAt(const SamplePlace& place, float texel) {
  const float room = place.inward.norm();
  return room > 0 ? Vec2(place.uv + std::min(1.f, 0.5f * texel / room) * place.inward) : place.uv;
}

}  // namespace juvenor
