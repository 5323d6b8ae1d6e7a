// A picture in linear light and its halves, for looking it up where it lands on a form: each sample takes the
// mean of what it covers there, as an ellipse of Gaussian weights (Heckbert 1989, elliptical weighted
// average), from the size of the pyramid (Williams 1983) whose pixels are about as fine as the ellipse is
// narrow. So nothing sparkles where the photo is squeezed, and nothing is blurred across where it is
// stretched along.
#pragma once

#include <array>
#include <memory>
#include <vector>

#include "core/color/srgb.h"
#include "core/photo/picture_data.h"
#include "core/vec.h"

namespace juvenor {

/// What a picture shows over a spot: the mean of its opaque part in linear light, and how opaque it is.
struct PictureValue {
  LinearColor color;
  float alpha = 0;  ///< 0…1; 0 beside the picture
};

class PicturePyramid {
 public:
  explicit PicturePyramid(PicturePointer picture);

  int width() const { return picture_->width; }
  int height() const { return picture_->height; }
  const PictureData& picture() const { return *picture_; }
  /// Memory of the halves.
  size_t bytes() const;

  /// Around a place in pixels (x right, y down; a pixel's centre is at its index plus a half). The columns of
  /// `spread` are where half a sample's width along two directions of the skin goes, in pixels.
  PictureValue at(const Vec2& pixel, const Eigen::Matrix2f& spread) const;
  /// The same over a round spot of so many pixels' radius.
  PictureValue at(const Vec2& pixel, float radius) const {
    return at(pixel, Eigen::Matrix2f(Eigen::Matrix2f::Identity() * radius));
  }
  /// Quickly, for looking at: between the four pixels around a place, of the level whose pixels are about so
  /// wide.
  PictureValue near(const Vec2& pixel, float width) const;
  /// One pixel of a level; 0 is the picture itself, every further one half as wide, rounded up.
  PictureValue pixel(size_t level, int x, int y) const;
  size_t levels() const { return 1 + halves_.size(); }
  int width(size_t level) const { return level == 0 ? width() : halves_[level - 1].width; }
  int height(size_t level) const { return level == 0 ? height() : halves_[level - 1].height; }

 private:
  /// Four values a pixel: red, green, blue premultiplied and linear by their square roots, and alpha.
  struct Half {
    int width = 0, height = 0;
    std::vector<std::array<uint16_t, 4>> pixels;
  };
  using Premultiplied = Eigen::Array4f;
  Premultiplied texel(size_t level, int x, int y) const;
  Half halved(size_t level) const;
  static PictureValue between(const Half& half, int left, int top, float u, float v);

  PicturePointer picture_;
  std::vector<Half> halves_;
};
using PyramidPointer = std::shared_ptr<const PicturePyramid>;

/// The pyramid of a picture, made when it is first asked for and kept as long as anybody holds it.
PyramidPointer pyramidOf(const PicturePointer& picture);

}  // namespace juvenor
