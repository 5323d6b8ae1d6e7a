// Layers that show only where another covers, and groups that show in part, for whole chunks: source-atop of
// Porter and Duff 1984 with the mixing of the W3C's Compositing and Blending Level 1 (section 9.1.4, 10).
#pragma once

#include "core/color/blending.h"
#include "core/layers/channels.h"

namespace juvenor {

/// Puts `source` on `base` in place, inside of what the base covers: co = αs·αb·Cs' + αb·Cb·(1 − αs) with
/// Cs' = (1 − αb)·Cs + αb·B(Cb, Cs), and αo = αb. `mask` (may be null) and `amount` (0…1) scale αs. Where
/// `cover` (may be null) is more than the base's alpha, the base covers there otherwise than by colour, and
/// the source shows there as it is. Stain and what tints skin bring nothing but to the base's own colours.
void atopChunk(BlendMode mode, ColorChunk& base, const ColorChunk& source, const ScalarChunk* mask,
               float amount, const ScalarChunk* cover);
/// The same of values that cover; `cover` as above.
void atopChunk(CoverChunk& base, const CoverChunk& source, const ScalarChunk* mask, float amount,
               const ScalarChunk* cover);
/// Heights meet as combineChunk has it, by as much as `cover` (null: all) says.
void atopChunk(ScalarChunk& base, const ScalarChunk& source, const ScalarChunk* mask, float amount,
               const ScalarChunk* cover, ChannelMode mode = ChannelMode::Usual);

/// Two masks in one, in `room`; `b` may be null.
ScalarChunk& multiplied(const ScalarChunk& a, const ScalarChunk* b, ScalarChunk& room);

/// `now` becomes what lies between `before` (amount and mask 0) and itself (1); amounts below 0 go beyond.
template <int Planes>
void mixChunk(Chunk<Planes>& now, const Chunk<Planes>& before, const ScalarChunk* mask, float amount);

}  // namespace juvenor
