// Each kind's facts, defined in its own file.
#pragma once

#include "core/layers/source.h"

namespace juvenor {

extern const SourceKind kPaintedKind;
extern const SourceKind kFillKind;
extern const SourceKind kRampKind;
extern const SourceKind kZonesKind;

}  // namespace juvenor
