// A mask worked out from surface maps: each term shapes one map, and the terms are multiplied, added or
// subtracted one after another. A painted mask lies on top of it. Masks from the same terms on the same
// surface are worked out once.
#pragma once

#include "core/members.h"
#include "core/surface/field.h"
#include "core/surface/maps/surface_maps.h"

namespace juvenor {

enum class MaskCombine { Multiply, Add, Subtract };
std::string_view maskCombineKey(MaskCombine combine);

/// How a map becomes a mask: first melted along the skin, then 1 from `low` to `high` (0…1 of the map),
/// fading to 0 over `fade` on either side, then contrast, then inverted. As it stands the map itself.
struct MaskTerm {
  MapSetting map;
  float melt = 0;  ///< scene units along the skin, the deviation of melt()
  float low = 1, high = 1, fade = 1;
  float contrast = 0;  ///< −1 all one grey … 0 as it is … 1 black and white
  bool invert = false;
  MaskCombine combine = MaskCombine::Multiply;  ///< with the terms before; means nothing for the first

  bool operator==(const MaskTerm&) const = default;
};
using MaskTerms = std::vector<MaskTerm>;
template <>
std::span<const Member<MaskTerm>> membersOf();

/// A value 0…1 with the contrast of terms.
float contrasted(float value, float contrast);
/// What a term makes of a value of its map, both 0…1 (melting aside).
float shaped(const MaskTerm& term, float value);

/// The maps they are made from.
std::vector<MapSetting> mapsOf(const MaskTerms& terms);

/// The whole mask, 65535 where the layer shows fully. Maps that are not there yet are measured.
Result<std::shared_ptr<const ScalarField>> maskOf(SurfaceMaps& maps, const MaskTerms& terms,
                                                  const Progress& progress = {});

/// Whether maskOf takes no longer than a look at every sample.
bool isMaskReady(SurfaceMaps& maps, const MaskTerms& terms);

nlohmann::json toJson(const MaskTerms& terms);
/// The error names the term that is wrong.
Result<MaskTerms> maskTermsFrom(const nlohmann::json& list);

}  // namespace juvenor
