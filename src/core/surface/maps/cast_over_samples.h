// What occlusion, thickness and exposure have in common: a number for every sample, on all cores, in the
// order of the curve (near samples send their rays through the same boxes), with progress and cancel.
#pragma once

#include <algorithm>
#include <atomic>

#include "core/parallel.h"
#include "core/surface/maps/measures.h"

namespace juvenor {

template <class ValueOf>
Measure castOverSamples(const Surface& surface, const Progress& progress, ValueOf valueOf) {
  std::vector<float> out(surface.size());
  constexpr size_t kReported = 4096;
  // pieces of a few milliseconds: between two of them a core can go to whoever is more urgent
  constexpr size_t kPiece = 128;
  std::atomic<size_t> done = 0;
  std::atomic<bool> stopped = false;
  parallelEach((out.size() + kPiece - 1) / kPiece, [&](size_t piece) {
    if (stopped) return;
    const size_t begin = piece * kPiece, end = std::min(begin + kPiece, out.size());
    for (size_t s = begin; s != end; ++s) out[s] = valueOf(static_cast<uint32_t>(s));
    const size_t now = done += end - begin;
    // not oftener than anybody can see
    if ((now - (end - begin)) / kReported != now / kReported &&
        !report(progress, static_cast<float>(now) / static_cast<float>(out.size())))
      stopped = true;
  });
  if (stopped) return cancelledError();
  return out;
}

}  // namespace juvenor
