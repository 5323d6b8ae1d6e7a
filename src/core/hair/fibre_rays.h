// The rays that meet fibres, as Embree's round curves; a structure of its own beside the skin's, so that hair
// comes and goes without touching that one. Where it is enough, for shadows and while the eye moves, fibres
// are straight from point to point, which is met several times faster.
#pragma once

#include <array>

#include "core/hair/fibres.h"

namespace juvenor {

struct FibreHit {
  uint32_t segment = kNone;
  float along = 0;  ///< 0…1 along it
  float distance = 0;
};

class FibreRays {
 public:
  /// Throws std::runtime_error when Embree cannot; see buildFibreRays.
  explicit FibreRays(FibresPointer fibres);
  ~FibreRays();
  FibreRays(const FibreRays&) = delete;
  FibreRays& operator=(const FibreRays&) = delete;

  const Fibres& fibres() const { return *fibres_; }

  /// The first fibre along a ray, within `reach`.
  std::optional<FibreHit> first(const Ray& ray, float reach = std::numeric_limits<float>::infinity()) const;
  /// Whether any lies within `reach`, straight from point to point.
  bool blocked(const Ray& ray, float reach = std::numeric_limits<float>::infinity()) const;
  /// How closely curves are met.
  enum class As { Curves, Straight };
  /// Eight rays that start close together, each with a reach of its own (below 0: not asked); segment kNone
  /// where one met nothing.
  void firstOfEight(const std::array<Ray, 8>& rays, const std::array<float, 8>& reach, As as,
                    std::array<FibreHit, 8>& out) const;

 private:
  struct Scene;
  FibresPointer fibres_;
  std::vector<uint32_t> straight_;  ///< the first of both points of each segment
  std::unique_ptr<Scene> scene_;
};
using FibreRaysPointer = std::shared_ptr<const FibreRays>;

/// The same with errors as values; null where there are no fibres.
Result<FibreRaysPointer> buildFibreRays(FibresPointer fibres);

}  // namespace juvenor
