// A small picture of a moment of the work: what a step changed, close up, or the whole sculpt. It shows what
// is ready at once; patterns that would have to grow are left out.
#pragma once

#include "core/document/document.h"
#include "core/progress.h"
#include "core/render/picture.h"

namespace juvenor {

/// Frames what differs between two documents on one surface, looked at from where it faces; the whole sculpt
/// from the front when there is no one before, or much of it changed.
Camera cameraOnChange(const Document* before, const Document& after, const ViewSize& size);

/// The skin of a document as that camera sees it, in its own colours (0xffRRGGBB). Empty when `progress` says
/// stop, or there are no rays.
std::vector<uint32_t> momentPicture(const Document& document, const Camera& camera, const ViewSize& size,
                                    const Progress& progress = {});

}  // namespace juvenor
