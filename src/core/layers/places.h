// Where on the skin something lies, as parameters of layers say it: by surface maps, and by areas.
#pragma once

#include "core/layers/mask_terms.h"
#include "core/layers/zones/hue_zone.h"

namespace juvenor {

/// What kinds that lie unevenly over the skin have in common: `maps`, mask terms, and `zones`, areas; either
/// may be null.
Outcome readPlaces(const nlohmann::json* maps, const nlohmann::json* zones, MaskTerms& terms,
                   std::vector<HueZone>& areas);

}  // namespace juvenor
