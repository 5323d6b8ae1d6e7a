// The kinds of map this program knows.
#include <algorithm>
#include <iterator>

#include "core/surface/maps/map_setting.h"

namespace juvenor {
namespace {

constexpr const MapKind* kMaps[] = {&kCavityMap,   &kRidgeMap,     &kOcclusionMap, &kThicknessMap,
                                    &kExposureMap, &kElevationMap, &kFacingMap,    &kCloudMap,
                                    &kCellsMap,    &kRidgedMap,    &kDoubtMap};

}  // namespace

std::span<const MapKind* const> mapKinds() {
  return kMaps;
}

const MapKind* mapKind(std::string_view key) {
  const auto found = std::ranges::find(kMaps, key, &MapKind::key);
  return found == std::end(kMaps) ? nullptr : *found;
}

}  // namespace juvenor
