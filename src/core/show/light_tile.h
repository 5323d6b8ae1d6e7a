// Tiles of a still: many samples a pixel, each through another place of pixel and lens, summed as light. A
// tile is all that is held while a still of 16,384 pixels is made.
#pragma once

#include "core/show/backdrop.h"
#include "core/show/lens_rays.h"

namespace juvenor {

inline constexpr int kLargestStill = 16'384;
inline constexpr int kStillTile = 128;  ///< pixels on an edge
inline constexpr int kMostStillSamples = 4'096;

struct StillWish {
  Look look;  ///< its light's panorama is read
  ViewSize size{1920, 1080};
  int samples = 64;                    ///< a pixel, at most: where more would not be seen it has fewer
  int firstLook = 16;                  ///< so many of them come before that is asked; even
  BackdropPicture backdrop = nullptr;  ///< of its size, where it was read before
};

/// Linear red, green and blue, multiplied by how much of the pixel is covered, and that, 0…1.
using CoveredLight = Eigen::Array4f;
using LightTile = std::vector<CoveredLight, Eigen::aligned_allocator<CoveredLight>>;

/// Of one tile of the picture the sculpt alone, with the shadow it throws on a floor: row by row. The scene's
/// light is laid. Stops early, with false, when `stop` says so.
class TileMaker {
 public:
  /// Both outlive it.
  TileMaker(const ShownScene& scene, const StillWish& wish);
  bool make(const PixelRect& tile, LightTile& out, const std::function<bool()>& stop = {}) const;

 private:
  bool addPass(const PixelRect& tile, uint32_t pass, struct TileWork& work,
               const std::function<bool()>& stop) const;
  bool sumPass(const PixelRect& tile, uint32_t pass, struct TileWork& work, LightTile& sums) const;

  const ShownScene& scene_;
  const StillWish& wish_;
  ShadeInput input_;
  LensRays rays_;
  std::optional<GroundShadow> ground_;
};

/// The tiles of a picture, from the middle outward: what one looks at comes first.
std::vector<PixelRect> stillTiles(const ViewSize& size);

}  // namespace juvenor
