// Stills as files: PNG or TIFF as they are shown, EXR as the light they are.
#pragma once

#include <filesystem>

#include "core/show/still_picture.h"

namespace juvenor {

enum class StillDepth { Bits8, Bits16 };  ///< of PNG and TIFF; EXR has half floats

/// The ending (png, tif, jpg, exr) chooses the format. With `clear` the cover goes along as alpha: straight
/// in PNG and TIFF, multiplied in EXR; otherwise the picture has none. What is written takes the place of
/// what was there only when it is whole.
Outcome writeStill(const std::filesystem::path& file, const StillPicture& picture, bool clear,
                   StillDepth depth = StillDepth::Bits8);

/// An error when no still can be written with this ending, in this depth, clear or not.
Outcome checkedStillFile(const std::filesystem::path& file, bool clear, StillDepth depth);

}  // namespace juvenor
