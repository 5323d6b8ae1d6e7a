#include "core/render/aperture.h"

#include <vector>

namespace juvenor {
namespace {

constexpr float kStraightAngle = 3.1415927f;

// To 7e-5 (Abramowitz and Stegun 4.4.45): it is asked several times a pixel.
float angleOf(float cosine) {
  const float x = std::min(1.f, std::abs(cosine));
  const float angle = std::sqrt(1 - x) * (1.5707288f + x * (-0.2121144f + x * (0.0742610f - 0.0187293f * x)));
  return cosine < 0 ? kStraightAngle - angle : angle;
}

// A cap of the sphere: how far it reaches from its middle.
struct Cap {
  float angle, cosine;
};

// even steps of the width's root, with which the angle grows nearly evenly
constexpr size_t kCapSteps = 512;

// Lobes of widths as cones of the published cosine, 10^-width.
const std::vector<Cap>& allCaps() {
  // a lobe that is no wider than a ray still has an edge
  constexpr float kLeast = 0.03f;
  static const std::vector<Cap> caps = [&] {
    std::vector<Cap> out;
    for (size_t i = 0; i <= kCapSteps; ++i) {
      const float root = static_cast<float>(i) / static_cast<float>(kCapSteps);
      const float angle = std::max(kLeast, std::acos(std::pow(10.f, -root * root)));
      out.push_back({angle, std::cos(angle)});
    }
    return out;
  }();
  return caps;
}

const Cap& lobeOf(float width) {
  const float root = std::sqrt(std::clamp(width, 0.f, 1.f));
  return allCaps()[static_cast<size_t>(root * static_cast<float>(kCapSteps) + 0.5f)];
}

// The area two caps share, by 2π (Oat and Sander's smooth step between all and nothing).
float shared(const Cap& first, const Cap& second, float apart) {
  const float small = std::min(first.angle, second.angle), large = std::max(first.angle, second.angle);
  const float whole = 1 - std::max(first.cosine, second.cosine);
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
  constexpr Cap kHalfSphere{kStraightAngle / 2, 0};
  const Cap& lobe = lobeOf(width);
  const float edge = std::sqrt(1 - std::clamp(aperture.open, 0.f, 1.f));
  const float open = shared({angleOf(edge), edge}, lobe, angleOf(aperture.toward.dot(mirror)));
  const float all = shared(kHalfSphere, lobe, angleOf(normal.dot(mirror)));
  return std::clamp(open / std::max(1e-4f, all), 0.f, 1.f);
}

std::span<const float> lobeCaps() {
  static_assert(sizeof(Cap) == 2 * sizeof(float));
  return {&allCaps().front().angle, 2 * allCaps().size()};
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
