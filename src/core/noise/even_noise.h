// Noise over space for masks and markings. Its values are spread evenly: any tenth of 0…1 is as common on the
// skin as any other, so that a threshold says how much of the skin it takes. What is finer than the samples
// is left out instead of sparkling.
#pragma once

#include "core/noise/noise_rows.h"

namespace juvenor {

/// 0…1 for each place; all else as for `rawNoise`.
std::vector<float> evenNoise(NoiseKind kind, const PlaceRow& places, float size, std::span<const float> apart,
                             uint32_t seed);

}  // namespace juvenor
