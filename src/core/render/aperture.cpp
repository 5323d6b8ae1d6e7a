#include "core/render/aperture.h"

namespace juvenor {
namespace {

float angleOf(float cosine) {
  return std::acos(std::clamp(cosine, -1.f, 1.f));
}

// The area two caps of the sphere share, by 2π (Oat and Sander's smooth step between all and nothing).
float shared(float first, float second, float apart) {
  const float small = std::min(first, second), large = std::max(first, second);
  const float whole = 1 - std::cos(small);
  if (apart <= large - small) return whole;
  if (apart >= large + small) return 0;
  const float t = 1 - (apart - (large - small)) / std::max(1e-4f, 2 * small);
  return whole * t * t * (3 - 2 * t);
}

float folded(float v, float other) {
  return (1 - std::abs(other)) * (v < 0 ? -1.f : 1.f);
}

}  // namespace

float mirroredThrough(const Aperture& aperture, const Vec3& normal, const Vec3& mirror, float width) {
  constexpr float kHalfSphere = 1.5707963f;
  // a lobe that is no wider than a ray still has an edge
  const float lobe = std::max(0.03f, angleOf(std::pow(10.f, -width)));
  const float open = shared(angleOf(std::sqrt(1 - std::clamp(aperture.open, 0.f, 1.f))), lobe,
                            angleOf(aperture.toward.dot(mirror)));
  const float all = shared(kHalfSphere, lobe, angleOf(normal.dot(mirror)));
  return std::clamp(open / std::max(1e-4f, all), 0.f, 1.f);
}

std::array<int8_t, 2> packedDirection(const Vec3& d) {
  const float size = std::abs(d.x()) + std::abs(d.y()) + std::abs(d.z());
  if (!(size > 0)) return {0, 0};
  float u = d.x() / size, v = d.z() / size;
  if (d.y() < 0) {
    const float other = folded(v, u);
    u = folded(u, v);
    v = other;
  }
  const auto byte = [](float f) { return static_cast<int8_t>(std::lround(127 * f)); };
  return {byte(u), byte(v)};
}

Vec3 unpackedDirection(const std::array<int8_t, 2>& packed) {
  float u = static_cast<float>(packed[0]) / 127, v = static_cast<float>(packed[1]) / 127;
  const float up = 1 - std::abs(u) - std::abs(v);
  if (up < 0) {
    const float other = folded(v, u);
    u = folded(u, v);
    v = other;
  }
  return Vec3(u, up, v).normalized();
}

}  // namespace juvenor
