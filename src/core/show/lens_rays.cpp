#include "core/show/lens_rays.h"

#include <cmath>
#include <numbers>

#include "core/seeded.h"

namespace juvenor {

float focalLength(const Camera& camera) {
  return 0.5f * kFrameHeight / std::tan(0.5f * camera.fieldOfView * std::numbers::pi_v<float> / 180);
}

float openingRadius(const Camera& camera, const Focus& focus, float millimetres) {
  if (!(focus.aperture > 0)) return 0;
  return 0.5f * focalLength(camera) / focus.aperture / millimetres;
}

float sharpDistance(const Camera& camera, const Focus& focus) {
  const float there = focus.sharp ? (camera.eye() - *focus.sharp).dot(camera.back()) : camera.distance;
  return there > 1e-4f * camera.distance ? there : camera.distance;
}

Vec2 spreadOver(int x, int y, uint32_t pass, uint32_t purpose) {
  const auto pixel = static_cast<uint64_t>(static_cast<uint32_t>(y)) << 32 | static_cast<uint32_t>(x);
  Draws shift(0x6c656e73 + purpose, pixel);
  // the plane's most even sequence, by the plastic number (Roberts 2018)
  const auto fraction = [](double v) { return static_cast<float>(v - std::floor(v)); };
  return {fraction(shift.unit() + 0.7548776662466927 * pass),
          fraction(shift.unit() + 0.5698402909980532 * pass)};
}

LensRays::LensRays(const Camera& camera, const ViewSize& whole, const Focus& focus, float millimetres)
    : lens_(camera, whole),
      radius_(openingRadius(camera, focus, millimetres)),
      sharp_(sharpDistance(camera, focus)),
      eye_(camera.eye()),
      right_(camera.right()),
      up_(camera.up()),
      back_(camera.back()) {}

Ray LensRays::bent(const Ray& ray, const Vec2& at) const {
  const float r = radius_ * std::sqrt(at.x()), angle = 2 * std::numbers::pi_v<float> * at.y();
  // where the ray through the lens' middle meets the plane that is sharp
  const float depth = (eye_ - ray.origin).dot(back_) + sharp_, along = -ray.direction.dot(back_);
  const Vec3 meets = ray.origin + depth / along * ray.direction;
  Ray out = ray;
  out.origin = ray.origin + r * (std::cos(angle) * right_ + std::sin(angle) * up_);
  out.direction = (meets - out.origin).normalized();
  return out;
}

}  // namespace juvenor
