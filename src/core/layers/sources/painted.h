// Layers one paints on.
#pragma once

#include "core/layers/source.h"

namespace juvenor {

/// A sheet one can paint on.
SourcePointer paintedSource(ChannelFields fields);
SourcePointer paintedSource(ColorField color);

}  // namespace juvenor
