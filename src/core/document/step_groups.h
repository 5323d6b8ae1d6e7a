// Steps of a history gathered for a list one can look over: strokes on one layer that follow each other
// within minutes are one group.
#pragma once

#include <span>

#include "core/document/history.h"

namespace juvenor {

struct StepGroup {
  size_t first = 0, count = 1;  ///< of the steps
  uint32_t layer = 0;           ///< the one layer its steps changed; 0: none, or several at once

  bool operator==(const StepGroup&) const = default;
};

/// The one layer that differs between two documents; 0 when none or several do.
uint32_t layerChangedBy(const Document& before, const Document& after);

/// In order, every step in one of them. A step with a name of the artist's own begins a group, and so does
/// the first; steps that change no one layer stand alone. `layers`: for each step the layer it changed.
std::vector<StepGroup> groupedSteps(std::span<const StepPointer> steps, std::span<const uint32_t> layers);

}  // namespace juvenor
