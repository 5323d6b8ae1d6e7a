// The light of a photo over the form it is thrown onto, shadows and all: at each node of a coarse level what
// comes from all open ways is one vector (Gershun 1939, the light field), and a sample receives what of it
// points along its own normal.
#pragma once

#include "core/photo/slide.h"
#include "core/surface/maps/open_sky.h"

namespace juvenor {

class LightOver {
 public:
  LightOver(const WayLight& light, std::shared_ptr<const OpenSky> sky);

  /// A factor a colour at a place of the skin under which `sample` is the nearest, never below a seventh: in
  /// deeper shade a photo has nothing to show.
  std::array<float, 3> at(uint32_t sample, const Vec3& place, const Vec3& normal) const;
  /// But for the sky, which is remembered by itself.
  size_t bytes() const { return sizeof(Vectors) * vectors_.capacity(); }

 private:
  using Vectors = Eigen::Matrix3f;  ///< a row a colour

  std::shared_ptr<const OpenSky> sky_;
  std::vector<Vectors> vectors_;
};
using LightOverPointer = std::shared_ptr<const LightOver>;

/// Null where no fitted light is divided out of the slide; remembered with the surface.
Result<LightOverPointer> lightOver(const Slide& slide, SurfaceMaps& maps, const Progress& progress = {});

/// What each way brings to a sample, for fittedLight.
std::array<float, kSkyWays> reachOf(const OpenSky& sky, uint32_t sample, const Vec3& normal);

}  // namespace juvenor
