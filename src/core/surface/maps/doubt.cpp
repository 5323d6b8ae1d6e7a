// How unsure what was carried over from another sculpt is. It is not measured here: documents give it to the
// maps of the surface their work was carried to. Where nothing was carried, nothing is in doubt.
#include "core/surface/maps/measures.h"
#include "core/surface/maps/surface_maps.h"

namespace juvenor {

constinit const MapKind kDoubtMap{"doubt",
                                  "Doubt",
                                  "where nothing was found when all was carried over",
                                  false,
                                  false,
                                  0,
                                  false,
                                  [](SurfaceMaps& maps, const MapSetting&, const Progress&) -> Measure {
                                    return std::vector<float>(maps.size(), 0.f);
                                  }};

}  // namespace juvenor
