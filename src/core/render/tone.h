// From light to the bytes of a picture, once and at the very end: light of many rays is summed as light, so
// that edges of highlights are as smooth as all others. Straight up to three quarters, then a soft shoulder
// that keeps hues; the last bit is dithered, since skin that turns away from a lamp is a long smooth ramp.
#pragma once

#include <cstdint>

#include "core/vec.h"

namespace juvenor {

enum class Toning {
  Plain,  ///< what is shown is a colour: encoded as it is
  Light   ///< what is shown is light, which may be far above one
};

/// Linear sRGB, not below 0, to 0xffRRGGBB, for the pixel at (x, y).
uint32_t toned(const Vec3& light, Toning toning, int x, int y);

/// The same before it becomes bytes: linear 0…1 and above.
Vec3 shownAs(const Vec3& light, Toning toning);

/// The light that is shown as an opaque pixel's colour, to be summed with others: exact for greys and for
/// what is darker than three quarters.
Vec3 untoned(uint32_t pixel, Toning toning);

/// How far a byte is rounded up at a pixel, 0…1, spread evenly over any neighbourhood (interleaved gradient
/// noise, Jimenez 2014). Never quite 0 or 1: what is a whole byte stays one.
float ditherAt(int x, int y);

}  // namespace juvenor
