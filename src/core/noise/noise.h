// Seeded noise over space: Perlin 2002 for folds, Worley 1996 for pores and warts.
#pragma once

#include "core/vec.h"

namespace juvenor {

/// Gradient noise, about −1…1, features about one unit large.
float perlin(const Vec3& p, uint32_t seed);
/// `octaves` of gradient noise, each half as large and half as strong.
float fractal(Vec3 p, int octaves, uint32_t seed);
/// Distances to the nearest and second nearest of one random point per unit cell.
struct Cells {
  float first, second;
};
Cells worley(const Vec3& p, uint32_t seed);

}  // namespace juvenor
