// A still taken apart for those who put it together elsewhere: its light by what it did, which summed is the
// beauty again, and what lies at each pixel as numbers. One file of many layers (OpenEXR).
//
// The light is taken apart by leaving out one thing after another and noting what each makes: so the sum
// holds whatever the things do to each other.
#pragma once

#include <filesystem>

#include "core/show/light_tile.h"

namespace juvenor {

/// How a pass fills a pixel.
enum class PassKind {
  Light,  ///< linear, averaged over all samples; those but the beauty sum to it
  Mean,   ///< a value of the skin, averaged over the samples that meet it
  Middle  ///< of what lies at the pixel's middle: never mixed
};

struct PassFacts {
  std::string name;  ///< of the layer in the file; empty: of the beauty, which is the file's own
  PassKind kind = PassKind::Light;
  std::vector<std::string> channels;  ///< "R", "G", "B" …
};

/// The passes of a look, in order. Zones and parts by id are whole numbers from 1; 0 is none. Lengths are
/// scene units, depth along the look; occlusion is how much of the sky is seen.
std::vector<PassFacts> passesOf(const ShownScene& scene, const Look& look);

/// The values of all passes in a rectangle, channel by channel as passesOf lists them: for each channel
/// width × height values, row by row. The scene's light is laid.
Result<std::vector<std::vector<float>>> passValues(const ShownScene& scene, const StillWish& wish,
                                                   const PixelRect& rect, const Progress& progress = {});

/// Lays the light and writes all passes as one file (.exr), a stretch of rows at a time. The beauty has its
/// cover as alpha; there is nothing behind the sculpt.
Outcome writePasses(ShownScene& scene, const StillWish& wish, const std::filesystem::path& file,
                    const Progress& progress = {});

}  // namespace juvenor
