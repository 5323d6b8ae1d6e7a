// What the channels beside colour do where layers meet, for whole chunks: covering values come before what
// lies below by their cover, heights add up.
#pragma once

#include "core/layers/channels.h"

namespace juvenor {

/// Lays `source` over `below` in place: source-over of Porter and Duff 1984 with the second plane as alpha;
/// or multiplies what is below by its value, as far as it covers. `mask` (may be null) and `amount` (0…1)
/// scale it.
void combineChunk(CoverChunk& below, const CoverChunk& source, const ScalarChunk* mask, float amount,
                  ChannelMode mode = ChannelMode::Usual);

/// Adds heights, scaled by `mask` (may be null) and `amount` (−1…1); what is out of reach is cut. Or goes by
/// as much from those below to the higher, the lower, or the source's (below 0: of the source turned inside
/// out), where that has any.
void combineChunk(ScalarChunk& below, const ScalarChunk& source, const ScalarChunk* mask, float amount,
                  ChannelMode mode = ChannelMode::Usual);

}  // namespace juvenor
