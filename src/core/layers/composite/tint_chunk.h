// The blend modes of the skin model for whole chunks: what SkinTint says of one colour, for 4,096 samples.
#pragma once

#include "core/color/skin_tint.h"
#include "core/surface/field.h"

namespace juvenor {

/// Moves the colours of `backdrop` in place by the alpha of `source`, scaled by `mask` (may be null) and
/// `opacity` (0…1). Alpha stays.
void tintChunk(const SkinTint& tint, ColorChunk& backdrop, const ColorChunk& source, const ScalarChunk* mask,
               float opacity);

}  // namespace juvenor
