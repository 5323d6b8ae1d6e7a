// Colours without what they cover, and with it again, for whole chunks.
#pragma once

#include <array>

#include "core/surface/field.h"

namespace juvenor {

bool isOpaque(const ColorChunk& chunk);
/// The colours at full cover; black and none where nothing is.
ColorChunk straightened(const ColorChunk& premultiplied);
/// Values at full cover; none where nothing is.
CoverChunk straightened(const CoverChunk& premultiplied);
/// Opaque colours made to cover by `alpha`, premultiplied.
void coverBy(ColorChunk& opaque, const std::array<uint16_t, kChunkSize>& alpha);

}  // namespace juvenor
