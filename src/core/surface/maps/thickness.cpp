// Thickness as the mean way of rays that go inward (a narrow form of the shape diameter of Shapira, Shamir,
// Cohen-Or 2008). A ball of radius r has r(1 + cos 30°).
#include <algorithm>

#include "core/surface/maps/cast_over_samples.h"
#include "core/surface/maps/surface_maps.h"
#include "core/surface/rays/ray_directions.h"

namespace juvenor {

Measure thickness(const Rays& rays, float most, int raysPerSample, const Progress& progress) {
  constexpr float kConeCosine = 0.8660254f;
  const Surface& surface = rays.surface();
  const float lift = liftOf(surface);
  return castOverSamples(surface, progress, [&](uint32_t s) {
    const Vec3 inward = -surface.normals[s], origin = surface.positions[s] + lift * inward;
    float sum = 0;
    for (int k = 0; k < raysPerSample; ++k) {
      const Vec2 u = spreadPoint(s, static_cast<uint32_t>(k));
      const auto hit = rays.first({origin, directionAround(inward, 1 - u.x() * (1 - kConeCosine), u.y())});
      sum += hit ? std::min(most, hit->distance + lift) : most;
    }
    return sum / static_cast<float>(raysPerSample);
  });
}

constinit const MapKind kThicknessMap{
    "thickness",
    "Thickness",
    "as thick as the scale, or more",
    true,
    false,
    0.12f,
    true,
    [](SurfaceMaps& maps, const MapSetting& setting, const Progress& progress) -> Measure {
      const auto rays = maps.rays(progress);
      if (!rays) return rays.error();
      auto way = thickness(**rays, setting.scale, kMapRays, progress);
      if (!way) return way;
      for (float& v : *way) v /= setting.scale;
      return way;
    }};

}  // namespace juvenor
