// Height along an axis, as a part of the whole: for skin that darkens toward the feet.
#include <algorithm>

#include "core/surface/maps/measures.h"
#include "core/surface/maps/surface_maps.h"

namespace juvenor {

std::vector<float> elevation(const Surface& surface, const Vec3& up) {
  std::vector<float> out(surface.size());
  if (out.empty()) return out;
  for (size_t s = 0; s < out.size(); ++s) out[s] = surface.positions[s].dot(up);
  const auto [low, high] = std::ranges::minmax(out);
  const float range = high - low;
  for (float& v : out) v = range > 0 ? (v - low) / range : 0.5f;
  return out;
}

constinit const MapKind kElevationMap{
    "elevation",
    "Elevation",
    "the highest point",
    false,
    true,
    0,
    false,
    [](SurfaceMaps& maps, const MapSetting& setting, const Progress&) -> Measure {
      return elevation(maps.surface(), setting.direction);
    }};

}  // namespace juvenor
