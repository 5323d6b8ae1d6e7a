// When two programs have changed one document: the steps of one put after those of the other, as a three-way
// merge over the step both stand on. What only one of them touched is taken from there, chunk by chunk and
// property by property; where both touched the same, it cannot be done and the error says where.
#pragma once

#include "core/document/store/store.h"

namespace juvenor {

/// All of `theirs` up to the step it shows, then `mine` after the last step both hold. `mine` are the steps
/// of the work up to the one shown.
Result<std::vector<StepPointer>> putAfter(const Opened& theirs, std::span<const StepPointer> mine);

}  // namespace juvenor
