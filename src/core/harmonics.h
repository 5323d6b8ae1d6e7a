// Real spherical harmonics up to band 2: nine numbers that hold a soft light, a visibility, or what they have
// in common. Ramamoorthi and Hanrahan 2001 (an efficient representation for irradiance environment maps).
#pragma once

#include <array>
#include <functional>

#include "core/vec.h"

namespace juvenor {

using Harmonics = std::array<float, 9>;

/// The nine basis functions in a direction of unit length.
Harmonics harmonicsAt(const Vec3& direction);

/// The projection of a radiance over all directions, by 4,096 evenly spread samples.
Harmonics projected(const std::function<float(const Vec3&)>& radiance);

/// Which band (0, 1, 2) each of the nine belongs to.
inline constexpr std::array<int, 9> kBand{0, 1, 1, 1, 2, 2, 2, 2, 2};
/// What the cosine lobe does to each band: π, 2π/3, π/4.
inline constexpr std::array<float, 3> kCosineLobe{3.14159265f, 2.09439510f, 0.78539816f};

}  // namespace juvenor
