// How long work tells how far it is and learns that nobody wants it any more.
#pragma once

#include <functional>

#include "core/result.h"

namespace juvenor {

/// Called with a fraction 0…1; returns false to ask the work to stop. May be called from any thread.
using Progress = std::function<bool(float)>;

/// Reports to `progress` when there is one; false means: stop.
inline bool report(const Progress& progress, float fraction) {
  return !progress || progress(fraction);
}

/// The error every cancelled operation gives.
inline Error cancelledError() {
  return {"cancelled", {}};
}

inline bool isCancelled(const Error& error) {
  return error.what == "cancelled";
}

}  // namespace juvenor
