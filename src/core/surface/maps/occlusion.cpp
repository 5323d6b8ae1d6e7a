// Ambient occlusion by rays spread with the cosine (Zhukov, Iones, Kronin 1998).
#include "core/surface/maps/cast_over_samples.h"
#include "core/surface/maps/surface_maps.h"
#include "core/surface/rays/ray_directions.h"

namespace juvenor {

Measure occlusion(const Rays& rays, float reach, int raysPerSample, const Progress& progress) {
  const Surface& surface = rays.surface();
  const float lift = liftOf(surface), far = reach > 0 ? reach : 2 * surface.bounds.diagonal();
  return castOverSamples(surface, progress, [&](uint32_t s) {
    const Vec3 &n = surface.normals[s], origin = surface.positions[s] + lift * n;
    int blocked = 0;
    for (int k = 0; k < raysPerSample; ++k)
      blocked += rays.blocked({origin, cosineDirection(n, spreadPoint(s, static_cast<uint32_t>(k)))}, far);
    return static_cast<float>(blocked) / static_cast<float>(raysPerSample);
  });
}

constinit const MapKind kOcclusionMap{
    "occlusion",
    "Occlusion",
    "closed in on all sides",
    true,
    false,
    0,
    true,
    [](SurfaceMaps& maps, const MapSetting& setting, const Progress& progress) -> Measure {
      const auto rays = maps.rays(progress);
      return rays ? occlusion(**rays, setting.scale, kMapRays, progress) : rays.error();
    }};

}  // namespace juvenor
