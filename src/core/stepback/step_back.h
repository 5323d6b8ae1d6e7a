// The work as one sees it who steps back from it: its outline, small from afar, in few greys, turned left to
// right, and where the eye goes first. From one picture of the easel, so that all of them follow the work.
#pragma once

#include "core/render/picture.h"
#include "core/stepback/where_the_eye_goes.h"

namespace juvenor {

/// 0xAARRGGBB, sRGB-encoded, row by row from the top.
struct SmallPicture {
  ViewSize size;
  std::vector<uint32_t> pixels;
};

/// Pixels the longer side of the sculpt has from afar: about a thumb's nail on a screen (common practice).
inline constexpr int kFarPixels = 48;

struct SteppedBack {
  SmallPicture outline;  ///< dark before light
  SmallPicture far;      ///< no larger than kFarPixels
  SmallPicture greys;    ///< five steps
  SmallPicture heat;     ///< greys, warm where the eye goes
  EyeMap eye;            ///< its places are of the picture that was given
};

/// `pixels`: 0x..RRGGBB, sRGB-encoded; `sculpt`: whether each shows any; both as many as `size` has. Pictures
/// but `far` are `across` pixels on their longer side, or as large as the given one where that is smaller;
/// what shows no sculpt is `background`. `far` is empty where there is no sculpt.
SteppedBack steppedBack(std::span<const uint32_t> pixels, std::span<const uint8_t> sculpt,
                        const ViewSize& size, int across, uint32_t background);

/// Left to right.
SmallPicture flipped(const SmallPicture& picture);

}  // namespace juvenor
