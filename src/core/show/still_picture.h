// A finished still: its tiles one after the other, before their backdrop or over nothing, kept in half floats
// so that 268 million pixels take two gigabytes.
#pragma once

#include "core/show/light_tile.h"

namespace juvenor {

/// Its pixels are linear light, multiplied by how much of each is covered, and that.
struct StillPicture {
  ViewSize size;
  Toning toning = Toning::Light;
  std::vector<std::array<float, 4>> pixels;  ///< row by row from the top

  Vec3 light(size_t at) const { return {pixels[at][0], pixels[at][1], pixels[at][2]}; }
  float cover(size_t at) const { return pixels[at][3]; }
  void set(size_t at, const Vec3& light, float cover) {
    pixels[at] = {light.x(), light.y(), light.z(), cover};
  }
};

/// A tile that has come, as it is shown: 0xffRRGGBB over the backdrop, row by row.
struct TileShown {
  PixelRect rect;
  std::vector<uint32_t> pixels;
};
using OnTile = std::function<void(const TileShown&)>;

/// Lays the light of the look and makes the still; `clear`: with nothing behind the sculpt. `onTile` gets
/// tiles as they come, in no order one may count on. Errors name a picture that cannot be read, or say that
/// it was cancelled.
Result<StillPicture> stillPicture(ShownScene& scene, const StillWish& wish, bool clear,
                                  const OnTile& onTile = {}, const Progress& progress = {});

/// The same of a light that lies on the scene already.
Result<StillPicture> stillOfLit(const ShownScene& scene, const StillWish& wish, bool clear,
                                const OnTile& onTile = {}, const Progress& progress = {});

/// Lays the light a look has, spread where its view shows that.
Outcome layLight(ShownScene& scene, const Look& look, const Progress& progress = {});

/// What is sharp where nothing was said: what lies in the middle of the picture, or else the camera's target.
Focus focusedOn(const ShownScene& scene, const Look& look);

/// An error that says what of a wish cannot be.
Outcome checkedWish(const StillWish& wish);

/// What is shown of it: 0xAARRGGBB, straight, sRGB-encoded, dithered.
std::vector<uint32_t> bytesOf(const StillPicture& picture);

}  // namespace juvenor
