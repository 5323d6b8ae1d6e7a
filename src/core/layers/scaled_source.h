// A source for another size: every length its kind knows of times a factor. Places stay where they are; see
// moved_skin.h.
#pragma once

#include "core/layers/mask_steps.h"
#include "core/layers/source.h"

namespace juvenor {

/// `by`: scene units there for one here. Painted sources stay as they are. The error says why the kind does
/// not take the numbers.
Result<SourcePointer> scaledSource(const SourcePointer& source, float by);
MaskTerms scaledTerms(MaskTerms terms, float by);
MaskSteps scaledSteps(MaskSteps steps, float by);

}  // namespace juvenor
