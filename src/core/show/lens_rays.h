// Rays through a lens that is no pinhole: each comes from another place of its opening and meets the others
// where all is sharp (Cook, Porter, Carpenter 1984, distributed ray tracing). The opening follows from the
// f-number on a picture 24 mm high (full frame, common practice), so that what lies elsewhere is as blurred
// as the thin-lens formula says.
#pragma once

#include "core/view/look.h"

namespace juvenor {

/// The height of the picture behind the lens, millimetres.
inline constexpr float kFrameHeight = 24;

/// Millimetres from the lens to a sharp picture of what is far away.
float focalLength(const Camera& camera);
/// The radius of the opening in scene units of so many millimetres; 0: a pinhole.
float openingRadius(const Camera& camera, const Focus& focus, float millimetres);
/// How far from the eye, along the look, all is sharp; scene units, above 0.
float sharpDistance(const Camera& camera, const Focus& focus);

/// Two numbers 0…1, spread evenly over the passes of a pixel and another way in each (Cranley, Patterson
/// 1976).
Vec2 spreadOver(int x, int y, uint32_t pass, uint32_t purpose);

class LensRays {
 public:
  LensRays(const Camera& camera, const ViewSize& whole, const Focus& focus, float millimetres);

  /// Through a pixel of the whole picture, `jitter` within it (jitterOf).
  Ray through(int x, int y, const Vec2& jitter, uint32_t pass) const {
    const Ray ray =
        lens_.rayThrough({static_cast<float>(x) + jitter.x(), static_cast<float>(y) + jitter.y()});
    return radius_ > 0 ? bent(ray, spreadOver(x, y, pass, 0)) : ray;
  }

 private:
  Ray bent(const Ray& ray, const Vec2& at) const;

  Lens lens_;
  float radius_, sharp_;
  Vec3 eye_, right_, up_, back_;
};

}  // namespace juvenor
