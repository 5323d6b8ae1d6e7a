// What a map holds at a place of the skin. A texel looks at one or more places; what they say is added up and
// settled into the texel's value.
#pragma once

#include <memory>

#include "core/color/skin_tone.h"
#include "core/layers/prepared_layer.h"
#include "core/textures/texture_wish.h"
#include "core/textures/worn_mesh.h"

namespace juvenor {

/// A place of the skin and of the mesh that wears the map.
struct TexelPlace {
  Triangle samples;              ///< of the skin
  std::array<float, 3> weights;  ///< of those
  uint32_t skinTriangle, wornTriangle;
  std::array<float, 3> worn;  ///< weights of the mesh's corners
  float distance = 0;         ///< from the mesh to the skin along the mesh's normal, scene units
};

class TexelMap {
 public:
  using Values = std::array<float, 4>;

  virtual ~TexelMap() = default;
  virtual void add(const TexelPlace& place, Values& sum) const = 0;
  /// From the sum of so many places to the value: as a rule their mean.
  virtual void settle(Values& sum, float places) const {
    for (float& v : sum) v /= places;
  }
};
using TexelMapPointer = std::unique_ptr<const TexelMap>;

enum class NormalsFrom { Everything, Relief };

/// What maps of a job are made of; all of it outlives them.
struct MapInput {
  const Document* document;
  const PreparedStack* stack;  ///< linked
  const ChannelFields* skin;   ///< all of it
  const WornMesh* worn;        ///< with tangents where a normal map is wanted
  NormalsFrom normals = NormalsFrom::Everything;
  bool greenUp = true;
};

/// The map, its surface maps measured. The error says what is missing: a layer that is not there, a map that
/// cannot be measured.
Result<TexelMapPointer> texelMap(const TextureWish& wish, const MapInput& input,
                                 const Progress& progress = {});
/// The kinds that have a file of their own.
TexelMapPointer normalTexels(const MapInput& input);
TexelMapPointer toneTexels(const MapInput& input, float SkinTone::*control);

/// The colour that stands for a part, sRGB-encoded: neighbours in number are far apart in hue.
EncodedColor colorOfPart(uint32_t part);

}  // namespace juvenor
