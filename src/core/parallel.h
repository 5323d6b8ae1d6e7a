// A loop over independent items on all cores.
#pragma once

#include <tbb/parallel_for.h>

#include <atomic>
#include <functional>

namespace juvenor {

/// Calls `body(i)` for every i below `count`, `grain` neighbours at a time on one core.
template <class Body>
void parallel(size_t count, Body&& body, size_t grain = 8192) {
  tbb::parallel_for(tbb::blocked_range<size_t>(0, count, grain), [&](const auto& range) {
    for (size_t i = range.begin(); i != range.end(); ++i) body(i);
  });
}

/// The same over begin … end. `stop` is asked before every few of them: a fraction of a millisecond where
/// each casts some rays. False when it said so; what was done by then is done.
template <class Body>
bool parallelUntil(size_t begin, size_t end, const std::function<bool()>& stop, Body&& body) {
  std::atomic<bool> stopped = false;
  tbb::parallel_for(tbb::blocked_range<size_t>(begin, end, 64), [&](const auto& range) {
    if (!stopped && stop && stop()) stopped = true;
    if (stopped) return;
    for (size_t i = range.begin(); i != range.end(); ++i) body(i);
  });
  return !stopped;
}

}  // namespace juvenor
