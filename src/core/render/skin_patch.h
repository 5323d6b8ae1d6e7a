// A small patch of made-up skin that pictures of brushes and kinds of layers are drawn on.
#pragma once

#include "core/surface/field.h"
#include "core/view/camera.h"

namespace juvenor {

inline constexpr EncodedColor kPatchTone{0.71f, 0.54f, 0.42f};

/// Two units wide and one high around the origin, with the soft bumps and creases of a cheek. Null when there
/// is no memory for it.
const std::shared_ptr<const Surface>& skinPatch();

/// The patch in these colours under a soft light: 0xffRRGGBB.
std::vector<uint32_t> patchPicture(const Surface& patch, const ColorField& colors, const ViewSize& size);

}  // namespace juvenor
