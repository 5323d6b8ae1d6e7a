// What skin mirrors at several places at once (shine.h, aperture.h): two lobes each, of the surroundings and
// of the lamps, as many places side by side as the machine's registers hold numbers.
#pragma once

#include "core/render/light.h"

namespace juvenor {

struct ShinePlaces {
  static constexpr size_t kMost = 16;
  using Numbers = std::array<float, kMost>;
  using Vectors = std::array<Numbers, 3>;

  size_t count = 0;  ///< up to kMost
  // what is there; directions of unit length
  Vectors normal{}, bent{}, toViewer{};     ///< `bent`: the normal by relief
  Numbers open{};                           ///< how much of the sky is seen, 0…1
  Vectors toward{};                         ///< where that lies
  std::array<Numbers, kLampCount> lamps{};  ///< how much of each is seen, 0…1
  std::array<Numbers, 2> width{};           ///< alpha of both lobes
  Numbers sharp{};                          ///< the first one's part of the light, 0…1
  Vectors reflectance{};                    ///< straight on, linear
  Vectors walls{};                          ///< the light of what stands in the sky's way, linear
  // what comes of it
  Vectors light{};  ///< that is mirrored, linear
  Vectors taken{};  ///< the part of all light that is not left for what lies below, 0…1

  static void set(Vectors& of, size_t at, const Vec3& v) {
    for (size_t k = 0; k < 3; ++k) of[k][at] = v[static_cast<int>(k)];
  }
  static Vec3 get(const Vectors& of, size_t at) { return {of[0][at], of[1][at], of[2][at]}; }
};

/// Sets `light` and `taken` of all places.
void shineAt(const LitBy& by, ShinePlaces& places);

/// Flesh that was opened is seen from behind, and no wet skin there: it mirrors nothing. 1 from outside;
/// normals that are mixed over a coarse triangle look away a little at the rim of a form.
inline float seenFromOutside(const Vec3& normal, const Vec3& toViewer) {
  return std::clamp(5 * (normal.dot(toViewer) + 0.3f), 0.f, 1.f);
}

}  // namespace juvenor
