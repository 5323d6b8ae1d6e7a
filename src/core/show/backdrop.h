// What stands behind the sculpt in a still, and the floor that takes its shadow.
#pragma once

#include <memory>
#include <optional>

#include "core/render/shown_scene.h"
#include "core/view/look.h"

namespace juvenor {

/// A backdrop's picture as large as a still, 0xffRRGGBB.
using BackdropPicture = std::shared_ptr<const std::vector<uint32_t>>;
/// Reads it; null where the backdrop is no picture.
Result<BackdropPicture> readBackdrop(const Backdrop& backdrop, const ViewSize& whole);

class BackdropLight {
 public:
  /// `whole`: the size of the still; `known`: its picture where it was read before, else it is read.
  static Result<BackdropLight> of(const Backdrop& backdrop, const ViewSize& whole, const Light& light,
                                  Toning toning, BackdropPicture known = nullptr);

  /// Linear light behind a pixel of the whole picture, by the ray through it; colours and pictures tone back
  /// to what they are.
  Vec3 at(int x, int y, const Ray& ray) const;

 private:
  struct Scaled;
  Backdrop backdrop_;
  ViewSize whole_;
  LitBy by_;
  float exposure_ = 1, width_ = 0;
  Toning toning_ = Toning::Light;
  Vec3 foot_ = Vec3::Zero(), top_ = Vec3::Zero();
  BackdropPicture picture_;
};

/// A floor as deep as the sculpt goes. What falls on it is less where the sculpt stands in the way.
class GroundShadow {
 public:
  /// Of what is shown of a scene whose light is `by`.
  GroundShadow(const ShownScene& scene, const LitBy& by);

  /// The part of light that is missing where a ray meets the floor, 0…1, by one ray to the sky and one to
  /// each lamp; `at` and `lamp` are two numbers 0…1 each, others in every pass. 0 where it meets none.
  float missing(const Ray& ray, const Vec2& at, uint32_t pass) const;

 private:
  const ShownScene& scene_;
  LitBy by_;
  float height_ = 0, reach_ = 0;
  Vec3 middle_ = Vec3::Zero();
  float sky_ = 0;  ///< what the floor receives of all but lamps, as brightness
  std::array<float, kLampCount> lamps_{};
  float whole_ = 0;
};

}  // namespace juvenor
