// The one shape with which everything soft fades out: brushes, hue zones, masks.
#pragma once

namespace juvenor {

/// Strength at a part `t` (0 centre … 1 rim) of the reach: 1 inside the hardness (0…1), then a smooth fall
/// to 0.
inline float falloff(float t, float hardness) {
  if (t >= 1) return 0;
  if (t <= hardness) return 1;
  const float u = (t - hardness) / (1 - hardness);
  return 1 - u * u * (3 - 2 * u);
}

/// Its mean over the disc of the reach.
inline float meanFalloff(float hardness) {
  const float soft = 1 - hardness;
  return hardness * hardness + hardness * soft + 0.3f * soft * soft;
}

}  // namespace juvenor
