// A texture map and its halves, looked up over the footprint a point of the skin has in it (Williams 1983;
// several looks along the longer way, as anisotropic filters have them by common practice). So a map finer
// than the points gives each the mean of what lies around it, and a coarser one goes smoothly from texel to
// texel.
#pragma once

#include <array>
#include <vector>

#include "core/photo/picture_data.h"
#include "core/vec.h"

namespace juvenor {

class MapPyramid {
 public:
  using Values = std::array<float, 4>;

  /// Numbers as they are.
  explicit MapPyramid(RawPicture picture);
  /// Colours in linear light, premultiplied by alpha; four planes.
  explicit MapPyramid(PicturePointer picture);

  int width() const { return levels_[0].width; }
  int height() const { return levels_[0].height; }
  int planes() const { return planes_; }
  /// Around a place of the tile, 0…1 with v going up; what lies beyond its border is the border. `half`: half
  /// a point's width along the way it is widest there and across, in the same units.
  Values at(const Vec2& uv, const Vec2& along, float across) const;

 private:
  struct Level {
    int width, height;
    std::vector<float> values;  ///< empty: as the picture has them
  };
  /// Four planes at once; those a map has not are 0.
  using Texel = Eigen::Array4f;
  Texel texel(const Level& level, int x, int y) const;
  void halve();
  Texel between(const Level& level, const Vec2& uv) const;

  int planes_;
  PicturePointer picture_;  ///< of colours, the finest level
  std::vector<Level> levels_;
};

/// A colour in linear light, premultiplied, as points hold it: sRGB-encoded, premultiplied by its alpha.
std::array<uint16_t, 4> encodedColor(const MapPyramid::Values& linear);

}  // namespace juvenor
