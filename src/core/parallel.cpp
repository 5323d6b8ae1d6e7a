#include "core/parallel.h"

#include <tbb/parallel_for.h>

namespace juvenor {

void runStretches(size_t begin, size_t end, size_t grain, void* body,
                  void (*stretch)(void* body, size_t first, size_t last)) {
  if (begin >= end) return;
  tbb::parallel_for(tbb::blocked_range<size_t>(begin, end, grain),
                    [&](const auto& range) { stretch(body, range.begin(), range.end()); });
}

}  // namespace juvenor
