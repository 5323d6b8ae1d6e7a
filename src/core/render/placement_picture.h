// A small picture of how a sculpt would stand, for choosing what is up and what faces front.
#pragma once

#include "core/render/picture.h"
#include "core/surface/build/placement.h"

namespace juvenor {

/// `rays` over the surface in the sculpt's own axes. 0xffRRGGBB, grey clay over `background`.
std::vector<uint32_t> placementPicture(const Rays& rays, const Placement& placement, const ViewSize& size,
                                       uint32_t background);

}  // namespace juvenor
