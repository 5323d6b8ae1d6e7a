// The blend modes of the skin model for whole chunks: what SkinTint says of one colour, for 4,096 samples.
// Layers of one mode that lie on each other are one film of it: their amounts add up and are looked up once.
#pragma once

#include "core/color/blending.h"
#include "core/color/skin_tint.h"
#include "core/surface/field.h"

namespace juvenor {

/// What layers of one of the modes of the skin model come to on a chunk; 1 is all that one layer can bring.
struct TintAmounts {
  BlendMode mode;
  float most = 0;  ///< of the amounts
  alignas(64) std::array<float, kChunkSize> amount{};
};

/// One layer more: the alpha of `source`, scaled by `mask` (may be null) and `opacity` (0…1).
void addTint(TintAmounts& sum, const ColorChunk& source, const ScalarChunk* mask, float opacity);
/// Moves the colours of `backdrop` in place; its alpha stays. What is more than one layer can bring is
/// brought by further steps of that much.
void tintChunk(const TintAmounts& amounts, ColorChunk& backdrop);

}  // namespace juvenor
