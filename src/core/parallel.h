// A loop over independent items on all cores.
#pragma once

#include <tbb/parallel_for.h>

namespace juvenor {

/// Calls `body(i)` for every i below `count`, `grain` neighbours at a time on one core.
template <class Body>
void parallel(size_t count, Body&& body, size_t grain = 8192) {
  tbb::parallel_for(tbb::blocked_range<size_t>(0, count, grain), [&](const auto& range) {
    for (size_t i = range.begin(); i != range.end(); ++i) body(i);
  });
}

}  // namespace juvenor
