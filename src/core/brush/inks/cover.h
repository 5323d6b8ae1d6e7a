// The way both lay and erase go: coverage grows toward the opacity, values move from before the stroke to a
// target, or up by it.
#pragma once

#include <algorithm>

#include "core/brush/ink.h"

namespace juvenor {

/// Moves a sample's coverage on by a dab; gives what it grew by, 0 when it is at the end.
inline float cover(float& covered, const Dab& dab, float weight) {
  if (covered >= dab.opacity) return 0;
  const float before = covered;
  // what lies beside what was laid before fills up evenly, what lies over it ever more slowly
  const float room = dab.addsUp ? dab.opacity : dab.opacity - covered;
  covered = std::min(dab.opacity, covered + room * dab.flow * weight);
  return covered - before;
}

/// Sets a value to what it was before the stroke, less the part `taken` of the coverage, plus `laid` (0…65535
/// times the coverage).
inline uint16_t covered(float before, float taken, float laid, float dither) {
  return static_cast<uint16_t>(std::clamp(before - taken * before + laid + dither, 0.f, 65535.f));
}

}  // namespace juvenor
