// What a kind of layer does to skin, shown on a small patch of it: made by the program itself, so that it is
// true.
#pragma once

#include "core/layers/source.h"
#include "core/view/camera.h"

namespace juvenor {

/// 0xffRRGGBB; an error when the example cannot be worked out.
Result<std::vector<uint32_t>> kindPicture(const SourceKind& kind, const ViewSize& size);

/// The same of a source: its sizes are those of the patch, about two units wide.
Result<std::vector<uint32_t>> sourcePicture(SourcePointer source, const ViewSize& size);

}  // namespace juvenor
