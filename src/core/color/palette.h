// A few colours that stand for many, and palettes as files.
#pragma once

#include <span>
#include <string>
#include <vector>

#include "core/color/srgb.h"
#include "core/progress.h"

namespace juvenor {

struct PaletteColor {
  EncodedColor color;
  double share = 0;  ///< of the pixels it stands for, 0…1
};

/// `count` colours (1…64, fewer when there are not so many) by k-means in Oklab, dark to light. Pixels are
/// 0xAARRGGBB, straight; transparent ones do not count. The same for the same pixels on every run.
Result<std::vector<PaletteColor>> paletteOf(std::span<const uint32_t> pixels, int count,
                                            const Progress& progress = {});

/// A palette with names, as in a .gpl file: text, 8 bits a channel.
struct NamedColor {
  EncodedColor color;
  std::string name;
};
struct NamedPalette {
  std::string name;
  std::vector<NamedColor> colors;
};
std::string writeGpl(const NamedPalette& palette);
/// Errors name the line.
Result<NamedPalette> readGpl(std::string_view text, const std::string& where);

}  // namespace juvenor
