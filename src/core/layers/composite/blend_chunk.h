// Blending of whole chunks: what color/blending.h says for one pixel, for 4,096 samples in vector registers.
// The instruction set is chosen at run time (Highway).
#pragma once

#include "core/color/blending.h"
#include "core/surface/field.h"

namespace juvenor {

/// Composites `source` onto `backdrop` in place. `mask` (may be null) and `opacity` (0…1) scale the source.
void blendChunk(BlendMode mode, ColorChunk& backdrop, const ColorChunk& source, const ScalarChunk* mask,
                float opacity);

}  // namespace juvenor
