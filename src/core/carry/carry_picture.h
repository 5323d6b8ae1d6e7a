// Pictures of both sides of carrying: the skin as it is coloured, with enough shading to see its forms, and
// over it how unsure each place is.
#pragma once

#include "core/document/document.h"
#include "core/view/camera.h"

namespace juvenor {

/// width × height pixels, 0xffRRGGBB. `doubt`: grey where it is sure, amber the less it is, in place of the
/// skin's colours. Empty when `progress` says stop, or there are no rays.
std::vector<uint32_t> carryPicture(const Document& document, const Camera& camera, const ViewSize& size,
                                   bool doubt, const Progress& progress = {});

}  // namespace juvenor
