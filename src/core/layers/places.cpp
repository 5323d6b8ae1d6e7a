#include "core/layers/places.h"

namespace juvenor {

Outcome readPlaces(const nlohmann::json* maps, const nlohmann::json* zones, MaskTerms& terms,
                   std::vector<HueZone>& out) {
  if (maps) {
    auto read = maskTermsFrom(*maps);
    if (!read) return read.error();
    terms = std::move(*read);
  }
  if (zones) {
    auto read = zoneSetFrom({{"zones", *zones}});
    if (!read) return read.error();
    out = std::move(read->zones);
  }
  return Done{};
}

}  // namespace juvenor
