// Each kind's facts, defined in its own file.
#pragma once

#include "core/layers/source.h"

namespace juvenor {

extern const SourceKind kPaintedKind;
extern const SourceKind kFillKind;
extern const SourceKind kRampKind;
extern const SourceKind kZonesKind;
extern const SourceKind kSpeckleKind;
extern const SourceKind kMottleKind;
extern const SourceKind kVeinsKind;
extern const SourceKind kScalesKind;
extern const SourceKind kBandsKind;
extern const SourceKind kSpotsKind;
extern const SourceKind kFineSkinKind;
extern const SourceKind kEyesKind;
extern const SourceKind kHairKind;
extern const SourceKind kAdjustKind;
extern const SourceKind kFilterKind;
extern const SourceKind kSlideKind;
extern const SourceKind kGroupKind;

}  // namespace juvenor
