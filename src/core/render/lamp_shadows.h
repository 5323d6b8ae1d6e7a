// How much of each lamp every sample sees, by rays spread over the lamp's disc. Belongs to the surface and to
// where the lamps stand: turning the sculpt under lamps that stand still keeps it, painting never touches it.
#pragma once

#include <functional>

#include "core/render/light.h"
#include "core/surface/rays/rays.h"
#include "core/zeroed.h"

namespace juvenor {

inline constexpr int kFirstLampRays = 4;

class LampShadows {
 public:
  explicit LampShadows(size_t samples) : seen_(samples), rays_(samples) {}

  /// Lamps stand here from now on; what was cast for one that moved is forgotten.
  void setLamps(const std::array<LitBy::Source, kLampCount>& lamps);
  /// Rays a lamp is settled with: a large one needs more.
  static int settledRays(const LitBy::Source& lamp);

  /// Casts rays from the samples of the range toward every lamp that is on until each has had `count`, or
  /// all it needs. Where the first rays of a sample and its neighbours agree they are all it needs, so the
  /// whole surface must have had `kFirstLampRays` before any of it is given more. `stop` is asked every
  /// fraction of a millisecond; false when it said so. Hidden parts are in no ray's way.
  bool raise(const Rays& rays, const std::set<uint32_t>& hidden, size_t begin, size_t end, int count,
             const std::function<bool()>& stop = {});
  /// The part of a lamp a sample sees, the mean over its neighbours; nothing before it had any ray.
  std::optional<float> seen(const Surface& surface, size_t sample, size_t lamp) const;

 private:
  enum class First : uint8_t { None, Dark, Bright, Mixed };  ///< what the first rays of a sample met
  void cast(const Rays& rays, const std::set<uint32_t>& hidden, size_t sample, size_t lamp, int wanted);
  bool isPlain(const Surface& surface, size_t sample, size_t lamp) const;

  std::array<LitBy::Source, kLampCount> lamps_;
  std::array<uint16_t, kLampCount> stand_{};  ///< counts how often each lamp moved
  struct Count {
    std::array<uint16_t, kLampCount> stand{};
    std::array<uint8_t, kLampCount> count{};
    std::array<First, kLampCount> first{};
  };
  Zeroed<std::array<uint8_t, kLampCount>> seen_;  ///< rays that got through
  Zeroed<Count> rays_;
};

}  // namespace juvenor
