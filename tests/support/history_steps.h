// What the store and the journal are given of a history.
#pragma once

#include "core/document/history.h"

namespace juvenor::test {

inline std::vector<StepPointer> stepsOf(const History& h) {
  return {h.steps().begin(), h.steps().end()};
}

/// The number the step now shown has on disk.
inline uint64_t currentOf(const History& h) {
  return h.steps()[h.current()]->id;
}

}  // namespace juvenor::test
