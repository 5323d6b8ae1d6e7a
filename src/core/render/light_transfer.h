// How much of the sky each sample sees, kept so that any soft light can be turned without another ray:
// precomputed radiance transfer (Sloan, Kautz, Snyder 2002) with nine harmonics. Rays are spread by the
// cosine; only those that are blocked are added up, so open skin has no noise at all. The estimate grows ray
// by ray at rest and belongs to the surface, not to the camera: turning the sculpt keeps it, painting never
// touches it.
#pragma once

#include <memory>

#include "core/render/light.h"
#include "core/surface/rays/rays.h"
#include "core/zeroed.h"

namespace juvenor {

inline constexpr int kFirstSkyRays = 4;

class LightTransfer {
 public:
  explicit LightTransfer(size_t samples);

  /// Casts rays from the samples of the range until each has had `count`, on all cores. Where the first rays
  /// of a sample and its neighbours all got through they are all it needs, so the whole surface must have had
  /// `kFirstSkyRays` before any of it is given more. `stop` is asked every fraction of a millisecond; false
  /// when it said so: what was cast counts, and the rest can follow later. Hidden parts are in no ray's way.
  bool raise(const Rays& rays, const std::set<uint32_t>& hidden, size_t begin, size_t end, int count,
             const std::function<bool()>& stop = {});
  int raysOf(size_t sample) const { return rays_[sample]; }

  /// By what each of a light's nine numbers is multiplied for the irradiance over π at a sample. What blocks
  /// the sky is the mean over the neighbours, which takes the noise of few rays away and leaves the form.
  Harmonics seen(const Surface& surface, size_t sample) const;
  /// Irradiance over π for a light through what is seen of it, band by band of the harmonics.
  static std::array<float, 3> bandsOf(const Harmonics& seen, const Harmonics& light);
  /// The part of a cosine-weighted hemisphere that is open, 0…1.
  float openness(size_t sample) const;

 private:
  enum class First : uint8_t { None, Free, Met };  ///< what the first rays of a sample met
  bool isOpen(const Surface& surface, size_t sample) const;

  Zeroed<std::array<float, 9>> blocked_;  ///< sums over rays
  Zeroed<uint16_t> rays_;
  Zeroed<First> first_;
};

/// The bands together as seen through skin of a curvature: they are damped as diffusion on a sphere of that
/// curvature does, exp(−l(l+1)·(scatter·curvature)²/2). 0 is a hard surface.
float irradianceOf(const std::array<float, 3>& bands, float scatterTimesCurvature);

}  // namespace juvenor
