// How much light a place that is not open receives once what falls on its walls has gone to and fro between
// them, by their colour: nostrils, mouths and ears are warm, not grey. The fit of Jimenez, Wu, Pesce, Jarabo
// 2016
// ("Practical Real-Time Strategies for Accurate Indirect Occlusion", its constants from memory).
#pragma once

#include <algorithm>

namespace juvenor {

/// `openness`: the part of its sky a place sees, 0…1; `albedo` of all around it, linear 0…1. What it
/// receives, by what it would in the open; never less than the openness.
inline float bouncedOpenness(float openness, float albedo) {
  const float a = 2.0404f * albedo - 0.3324f, b = -4.7951f * albedo + 0.6417f, c = 2.7552f * albedo + 0.6903f;
  return std::clamp(((openness * a + b) * openness + c) * openness, openness, 1.f);
}

}  // namespace juvenor
