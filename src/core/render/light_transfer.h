// How much of the sky each sample sees, kept so that any soft light can be turned without another ray:
// precomputed radiance transfer (Sloan, Kautz, Snyder 2002) with nine harmonics. Rays are spread by the
// cosine; only those that are blocked are added up, so open skin has no noise at all. The estimate grows ray
// by ray at rest and belongs to the surface, not to the camera: turning the sculpt keeps it, painting never
// touches it.
#pragma once

#include <memory>
#include <vector>

#include "core/render/light.h"
#include "core/surface/rays.h"

namespace juvenor {

class LightTransfer {
 public:
  explicit LightTransfer(size_t samples);

  /// Adds `rays` rays to every sample of the range, on all cores. `stop` is asked now and then.
  void addRays(const Rays& rays, size_t begin, size_t end, int count, const std::function<bool()>& stop = {});
  /// How many rays each sample of the range has had at least (the same for a range always added together).
  int raysOf(size_t sample) const { return rays_[sample]; }

  /// Irradiance over π at a sample for a light, seen through skin of a curvature: bands are damped as
  /// diffusion on a sphere of that curvature does, exp(−l(l+1)·(scatter·curvature)²/2). scatter 0 is a hard
  /// surface.
  float irradiance(size_t sample, const Vec3& normal, const Harmonics& light,
                   float scatterTimesCurvature) const;
  /// The part of a cosine-weighted hemisphere that is open, 0…1.
  float openness(size_t sample) const;

 private:
  std::vector<std::array<float, 9>> blocked_;  ///< sums over rays
  std::vector<uint16_t> rays_;
};

}  // namespace juvenor
