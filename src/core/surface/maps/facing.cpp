// How far the skin turns toward a direction, from its normals alone.
#include "core/surface/maps/measures.h"
#include "core/surface/maps/surface_maps.h"

namespace juvenor {

std::vector<float> facing(const Surface& surface, const Vec3& direction) {
  std::vector<float> out(surface.size());
  for (size_t s = 0; s < out.size(); ++s) out[s] = 0.5f * (1 + surface.normals[s].dot(direction));
  return out;
}

constinit const MapKind kFacingMap{
    "facing",
    "Facing",
    "turned right toward the direction",
    false,
    true,
    0,
    false,
    [](SurfaceMaps& maps, const MapSetting& setting, const Progress&) -> Measure {
      return facing(maps.surface(), setting.direction);
    }};

}  // namespace juvenor
