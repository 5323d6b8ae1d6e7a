#include "core/render/light.h"

#include <cmath>
#include <numbers>

namespace juvenor {

Vec3 patchDirection(const Light& light) {
  const float a = light.dial * std::numbers::pi_v<float> / 180, height = 0.65f;
  const float flat = std::sqrt(1 - height * height);
  return {flat * std::sin(a), height, flat * std::cos(a)};
}

float radiance(const Light& light, const Vec3& d) {
  constexpr float kSky = 0.60f, kGround = 0.17f, kPatch = 1.9f;
  const float up = d.y();
  // sky and ground melt into each other over a hazy horizon
  const float sky = kSky * (1 + 2 * std::max(0.f, up)) / 3 * 1.6f;
  const float mix = std::clamp(0.5f + 2.5f * up, 0.f, 1.f);
  const float toward = std::max(0.f, d.dot(patchDirection(light)));
  return mix * sky + (1 - mix) * kGround + light.patch * kPatch * std::pow(toward, 6.f);
}

Harmonics harmonicsOf(const Light& light) {
  return projected([&](const Vec3& d) { return radiance(light, d); });
}

}  // namespace juvenor
