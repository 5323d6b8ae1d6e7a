// The sky a sample sees: cosine-weighted rays that point above the horizon of `direction` and meet nothing.
#include "core/surface/maps/cast_over_samples.h"
#include "core/surface/maps/surface_maps.h"
#include "core/surface/rays/ray_directions.h"

namespace juvenor {

Measure exposure(const Rays& rays, const Vec3& direction, int raysPerSample, const Progress& progress) {
  const Surface& surface = rays.surface();
  const float lift = liftOf(surface), far = 2 * surface.bounds.diagonal();
  return castOverSamples(surface, progress, [&](uint32_t s) {
    const Vec3 &n = surface.normals[s], origin = surface.positions[s] + lift * n;
    int open = 0;
    for (int k = 0; k < raysPerSample; ++k) {
      const Vec3 d = cosineDirection(n, spreadPoint(s, static_cast<uint32_t>(k)));
      open += d.dot(direction) > 0 && !rays.blocked({origin, d}, far);
    }
    return static_cast<float>(open) / static_cast<float>(raysPerSample);
  });
}

constinit const MapKind kExposureMap{
    "exposure",
    "Exposure",
    "the whole sky is seen",
    false,
    true,
    0,
    true,
    [](SurfaceMaps& maps, const MapSetting& setting, const Progress& progress) -> Measure {
      const auto rays = maps.rays(progress);
      return rays ? exposure(**rays, setting.direction, kMapRays, progress) : rays.error();
    }};

}  // namespace juvenor
