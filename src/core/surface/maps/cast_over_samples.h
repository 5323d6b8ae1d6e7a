// What occlusion, thickness and exposure have in common: a number for every sample, on all cores, in the
// order of the curve (near samples send their rays through the same boxes), with progress and cancel.
#pragma once

#include <tbb/parallel_for.h>

#include <atomic>

#include "core/surface/maps/measures.h"

namespace juvenor {

/// How far above the skin a ray starts, so that it does not meet its own triangle.
inline float rayLift(const Surface& surface) {
  return 0.05f * surface.spacing + 1e-6f * surface.bounds.diagonal();
}

template <class ValueOf>
Measure castOverSamples(const Surface& surface, const Progress& progress, ValueOf valueOf) {
  std::vector<float> out(surface.size());
  std::atomic<size_t> done = 0;
  std::atomic<bool> stopped = false;
  tbb::parallel_for(tbb::blocked_range<size_t>(0, surface.size(), 4096), [&](const auto& range) {
    if (stopped) return;
    for (size_t s = range.begin(); s != range.end(); ++s) out[s] = valueOf(static_cast<uint32_t>(s));
    const auto now = static_cast<float>(done += range.size());
    if (!report(progress, now / static_cast<float>(surface.size()))) stopped = true;
  });
  if (stopped) return cancelledError();
  return out;
}

}  // namespace juvenor
