// What occlusion, thickness and exposure have in common: a number for every sample, on all cores, in the
// order of the curve (near samples send their rays through the same boxes), with progress and cancel.
#pragma once

#include <tbb/parallel_for.h>

#include <atomic>

#include "core/surface/maps/measures.h"

namespace juvenor {

template <class ValueOf>
Measure castOverSamples(const Surface& surface, const Progress& progress, ValueOf valueOf) {
  std::vector<float> out(surface.size());
  constexpr size_t kReported = 4096;
  std::atomic<size_t> done = 0;
  std::atomic<bool> stopped = false;
  const auto piece = [&](const tbb::blocked_range<size_t>& range) {
    if (stopped) return;
    for (size_t s = range.begin(); s != range.end(); ++s) out[s] = valueOf(static_cast<uint32_t>(s));
    const size_t before = done.fetch_add(range.size()), now = before + range.size();
    // not oftener than anybody can see
    if (before / kReported != now / kReported &&
        !report(progress, static_cast<float>(now) / static_cast<float>(surface.size())))
      stopped = true;
  };
  // pieces of a few milliseconds: between two of them a core can go to whoever is more urgent
  tbb::parallel_for(tbb::blocked_range<size_t>(0, surface.size(), 128), piece, tbb::simple_partitioner{});
  if (stopped) return cancelledError();
  return out;
}

}  // namespace juvenor
