// Layers of hue zones.
#pragma once

#include "core/layers/source.h"

namespace juvenor {

/// Hue zones that tint what lies below.
SourcePointer zoneSource(ZoneSet zones);

}  // namespace juvenor
