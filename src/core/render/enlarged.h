// A picture of few pixels made large, as while something moves: straight between the middles of its pixels.
#pragma once

#include <cstdint>
#include <span>

#include "core/view/camera.h"

namespace juvenor {

/// The size of the picture whose pixels each stand for part × part of a whole one's; its last row and column
/// may reach beyond.
inline ViewSize partOf(const ViewSize& whole, int part) {
  return {(whole.width + part - 1) / part, (whole.height + part - 1) / part};
}

/// Opaque pixels 0xAARRGGBB of `partOf(whole, part)` to as many as the whole has; on all cores.
void enlarge(std::span<const uint32_t> small, int part, const ViewSize& whole, std::span<uint32_t> out);

}  // namespace juvenor
