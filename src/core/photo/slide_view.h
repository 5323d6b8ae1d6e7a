// What a slide shows on a form: a place of the skin is seen from where the slide is thrown, found on the
// picture through the pins' warp, looked up by the true footprint of its sample there, and brought to the
// light and tones the slide is set to.
#pragma once

#include "core/photo/broad_light.h"
#include "core/photo/pin_warp.h"
#include "core/photo/slide.h"

namespace juvenor {

/// A factor for each of red, green and blue.
using ColorFactors = std::array<float, 3>;
inline constexpr ColorFactors kNoLight{1, 1, 1};

/// Where a slide's places in the view lie on its picture, by its pins.
PinWarp warpOf(const Slide& slide);
/// From places of the scene (and 1) to places in the view, as (x, y, w): x/w and y/w; w is above 0 before the
/// viewer.
Eigen::Matrix<float, 3, 4> toView(const Camera& camera);

class SlideView {
 public:
  /// The slide must have its picture. Its pyramid is made here where nobody has it yet.
  explicit SlideView(const Slide& slide);

  /// A sample of the skin.
  struct Spot {
    Vec3 place, normal;
    float area = 0;                 ///< scene units squared
    ColorFactors light = kNoLight;  ///< fitted on the form, to be divided out; see LightOver
  };
  /// Where a spot lies on the picture.
  struct Landing {
    Vec2 pixel;
    Eigen::Matrix2f spread;  ///< half its width along two directions of the skin, in pixels
    bool inside = false;     ///< on the picture
  };
  /// Nothing behind the viewer. `width` times as wide as the sample is.
  std::optional<Landing> landing(const Spot& spot, float width = 1) const;
  /// What it shows there: evened by the spot's light or the picture's own, lifted and matched.
  PictureValue shown(const Landing& landing, const ColorFactors& light = kNoLight) const;
  /// What a viewer sees of the slide itself at a place of its picture, one pixel of the view being so wide
  /// there (half the longer side is one): quickly. `light`: of the form behind, see Spot.
  PictureValue hanging(const Vec2& onPicture, float width, ColorFactors light = kNoLight) const;
  /// How many pixels of the photo lie across one sample, along the way it is stretched most: below one the
  /// photo is coarser than the skin.
  float fineness(const Landing& landing) const;
  /// 0…1: dies out toward the edges of the picture over a part of its longer side.
  float inset(const Landing& landing, float feather) const;
  /// The cosine of the angle under which the viewer sees a place.
  float facing(const Spot& spot) const;

  const Slide& slide() const { return slide_; }

 private:
  LinearColor toned(LinearColor color, const Landing& landing, ColorFactors light) const;
  LinearColor lit(LinearColor color, const ColorFactors& light) const;

  Slide slide_;
  PyramidPointer pyramid_;
  PinWarp warp_;
  Eigen::Matrix<float, 3, 4> toView_;
  Lens lens_;
  float longest_;  ///< half the picture's longer side in pixels
  std::optional<BroadLight> broad_;
};
using SlideViewPointer = std::shared_ptr<const SlideView>;

/// A colour moved from one spread of tones to another in Oklab, all the way (Reinhard, Ashikhmin, Gooch,
/// Shirley 2001, with Oklab in place of their axes).
Oklab matched(const Oklab& color, const ToneSpread& from, const ToneSpread& to);

}  // namespace juvenor
