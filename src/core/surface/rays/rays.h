// The one ray-tracing structure (Embree) that everything seen, picked or shadowed goes through. As the sculpt
// never moves, it is built for a surface once to start with and once more to trace faster, and shared.
#pragma once

#include <memory>
#include <set>

#include "core/surface/ray.h"

namespace juvenor {

struct Hit {
  uint32_t triangle = kNone;
  float u = 0, v = 0;  ///< weights of the triangle's second and third sample
  float distance = 0;
};

class Rays {
 public:
  enum class Quality { Quick, Full };  ///< Quick builds several times faster and traces a little slower
  /// Throws std::runtime_error when Embree cannot, or `progress` says stop; see buildRays.
  Rays(std::shared_ptr<const Surface> surface, Quality quality, const Progress& progress = {});
  ~Rays();
  Rays(const Rays&) = delete;
  Rays& operator=(const Rays&) = delete;

  const Surface& surface() const { return *surface_; }
  std::shared_ptr<const Surface> sharedSurface() const { return surface_; }

  /// The first triangle along the ray that is not of a hidden part and lies within `reach`.
  std::optional<Hit> first(const Ray& ray, const std::set<uint32_t>& hidden = {},
                           float reach = std::numeric_limits<float>::infinity()) const;
  /// Whether anything but hidden parts lies within `reach` along the ray.
  bool blocked(const Ray& ray, float reach, const std::set<uint32_t>& hidden = {}) const;
  /// Eight rays that start close together, all or none of them for fronts only; entry i of `out` has triangle
  /// kNone where ray i met nothing.
  void firstOfEight(const std::array<Ray, 8>& rays, const std::set<uint32_t>& hidden,
                    std::array<Hit, 8>& out) const;
  /// The nearest point of the surface within `reach`; toViewer is the normal there.
  std::optional<SurfacePoint> nearest(const Vec3& point, float reach) const;

  /// What else a nearest place has to have in common with the one that is asked for.
  struct Alike {
    Vec3 normal;                       ///< unit: the way the skin looks there
    float least = 0.2f;                ///< the cosine of the angle to it, at least
    std::span<const char> parts = {};  ///< by part whether it may lie there; empty: anywhere
  };
  /// The nearest place within `reach` that is alike; `distance` of the hit is the way to it.
  std::optional<Hit> nearestAlike(const Vec3& point, float reach, const Alike& alike) const;

  /// The hit as a place on the surface, with the interpolated normal.
  SurfacePoint pointOf(const Hit& hit, const Vec3& towardViewer) const;

 private:
  struct Scene;
  std::shared_ptr<const Surface> surface_;
  std::unique_ptr<Scene> scene_;
};
using RaysPointer = std::shared_ptr<const Rays>;

/// The same with errors as values: what Embree says, or that it was cancelled.
Result<RaysPointer> buildRays(std::shared_ptr<const Surface> surface, Rays::Quality quality,
                              const Progress& progress = {});

}  // namespace juvenor
