// The noises of noise.h for rows of places, as many at once as the machine's registers hold.
#pragma once

#include <array>
#include <span>
#include <vector>

#include "core/vec.h"

namespace juvenor {

/// A row of places, each coordinate by itself.
struct PlaceRow {
  std::array<std::vector<float>, 3> along;  ///< x, y, z, equally long

  explicit PlaceRow(size_t size) { along.fill(std::vector<float>(size)); }
  size_t size() const { return along[0].size(); }
  void set(size_t i, const Vec3& place) {
    for (size_t k = 0; k < 3; ++k) along[k][i] = place[static_cast<int>(k)];
  }
};

/// As `perlin` for each place, features about `size` large.
std::vector<float> perlinRow(const PlaceRow& places, float size, uint32_t seed);

enum class NoiseKind {
  Cloud,   ///< soft clouds at several sizes
  Cells,   ///< round cells: 0 in their middles, 1 where they meet
  Ridged,  ///< branching ridges: 1 on them
};

/// Around 0, as its formula comes out. `size`: of the largest features; those smaller than about twice what
/// samples are `apart` there (same unit, as many as places, or none) fade out.
std::vector<float> rawNoise(NoiseKind kind, const PlaceRow& places, float size, std::span<const float> apart,
                            uint32_t seed);

}  // namespace juvenor
