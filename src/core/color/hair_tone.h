// The colour of hair from its two melanins. A fibre absorbs by how much of either it holds (d'Eon, Francois,
// Hill, Letteri, Aubry 2011: the absorption of eumelanin and pheomelanin, as renderers at large use them);
// what a whole head of such fibres looks like after light went through many of them follows the fit of
// Chiang, Bitterli, Tappan, Burley 2016. All numbers from memory.
#pragma once

#include "core/vec.h"

namespace juvenor {

/// Nobody's hair holds more.
inline constexpr float kMostMelanin = 8;

/// Absorption along one radius of a fibre, red, green and blue (linear), of so much eumelanin (0.3 blond, 1.3
/// brown, 8 black) and pheomelanin (red hair has much).
Vec3 hairAbsorption(float eumelanin, float pheomelanin);

/// What many fibres of an absorption look like together: linear, 0…1.
Vec3 hairTone(const Vec3& absorption);

}  // namespace juvenor
