// Work that must never take time from the pen: its thread steps back behind the others, and the pool's
// threads leave it whenever somebody else has something to do.
#pragma once

#include <functional>

namespace juvenor {

/// Runs `work` on this thread, which stays in the back from then on.
void quietly(const std::function<void()>& work);

}  // namespace juvenor
