// Judging values: a picture squinted at and cut into a few steps of grey, and how much of it is how bright.
#pragma once

#include <array>
#include <span>

#include "core/render/picture.h"

namespace juvenor {

struct ValueCheck {
  int steps = 0;     ///< 2…9 steps of grey; 0: as smooth as it is
  float squint = 0;  ///< pixels: the standard deviation of the blur; 0: sharp

  bool active() const { return steps >= 2 || squint > 0; }
  bool operator==(const ValueCheck&) const = default;
};

/// Blurs the sculpt's pixels among themselves, then cuts them into steps that look even (of the encoded
/// value); pixels that show no sculpt stay, so that the outline does. 0xAARRGGBB, in place.
void checkValues(const ValueCheck& check, const VisibilityImage& visibility, std::span<uint32_t> pixels);
/// The same for a rectangle of the picture, to the bit, into `out`, which is as large as the picture.
void checkValues(const ValueCheck& check, const VisibilityImage& visibility, std::span<const uint32_t> pixels,
                 const PixelRect& rect, std::span<uint32_t> out);
/// All that looks another way when the pixels of a rectangle change.
PixelRect touchedBy(const ValueCheck& check, const PixelRect& rect, const ViewSize& size);

/// How many pixels of the sculpt lie in each of 64 even steps of encoded brightness.
using ValueHistogram = std::array<uint32_t, 64>;
ValueHistogram valueHistogram(const VisibilityImage& visibility, std::span<const uint32_t> pixels);

}  // namespace juvenor
