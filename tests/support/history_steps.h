// What the store and the journal are given of a history.
#pragma once

#include "core/document/history.h"
#include "core/document/store/store.h"

namespace juvenor::test {

inline std::vector<StepPointer> stepsOf(const History& h) {
  return {h.steps().begin(), h.steps().end()};
}

/// The number the step now shown has on disk.
inline uint64_t currentOf(const History& h) {
  return h.steps()[h.current()]->id;
}

/// What a file holds when another program went on from a step.
inline Opened changedElsewhere(const StepPointer& base, const Document& changed) {
  Opened out;
  auto step = std::make_shared<Step>();
  step->id = freshStepId();
  step->document = changed;
  out.steps = {base, step};
  out.current = 1;
  return out;
}

}  // namespace juvenor::test
