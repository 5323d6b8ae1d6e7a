// A brush as one stroke of it on skin.
#pragma once

#include "core/brush/brush_roll.h"
#include "core/view/camera.h"

namespace juvenor {

/// 0xffRRGGBB, an S of the brush swelling and fading with the pen. Broad brushes are shown smaller, fine ones
/// larger than they are, so that all fit; faint ones stronger.
Result<std::vector<uint32_t>> brushPicture(const RollBrush& brush, const ViewSize& size);

}  // namespace juvenor
