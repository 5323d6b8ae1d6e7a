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

/// Moves every sample of a footprint from what it was before the stroke toward `targetOf(sample)`, a value
/// 0…65535 for each plane of the field.
template <class TargetOf>
void coverToward(const Dab& dab, const Footprint& footprint, WorkingField& field, float dither,
                 TargetOf targetOf) {
  const auto planes = static_cast<size_t>(field.planes());
  for (size_t k = 0; k < footprint.samples.size(); ++k) {
    const uint32_t s = footprint.samples[k];
    const WorkingField::Page& page = field.page(s);
    const size_t i = s % kChunkSize;
    if (cover(page.coverage[i], dab, footprint.weights[k]) <= 0) continue;
    const float all = page.coverage[i];
    const auto& target = targetOf(s);
    for (size_t p = 0; p < planes; ++p)
      page.now[p][i] = covered(page.before[p][i], all, all * static_cast<float>(target[p]), dither);
  }
}

}  // namespace juvenor
