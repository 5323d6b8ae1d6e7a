#include "core/hair/fibre_scatter.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace juvenor {
namespace {

constexpr float kPi = std::numbers::pi_v<float>;
// Of keratin straight on: index 1.55 (Marschner and others 2003).
constexpr float kReflectance = 0.0465f;
// What of light that went in comes back from the far side, around on the whole.
constexpr float kInside = 0.12f;

// Angles of a direction against the plane across the fibre, and around it.
struct Angles {
  float sine, cosine;  ///< of the first
  Vec3 around;         ///< unit, in that plane
};
Angles anglesOf(const Vec3& tangent, const Vec3& direction) {
  const float sine = std::clamp(tangent.dot(direction), -1.f, 1.f);
  const Vec3 across = direction - sine * tangent;
  const float length = across.norm();
  return {sine, std::sqrt(std::max(0.f, 1 - sine * sine)),
          length > 1e-6f ? Vec3(across / length) : tangent.unitOrthogonal()};
}

float gaussian(float x, float width) {
  return std::exp(-0.5f * x * x / (width * width)) / (width * std::sqrt(2 * kPi));
}

// Along the fibre: what leaves around the angle across from where it came, leaning; integrates with the
// cosine of light squared to no more than about one.
float along(const Angles& in, const Angles& out, float leaning, float width) {
  const float from = std::asin(in.sine), to = std::asin(out.sine);
  const float half = std::cos(0.5f * (from - to));
  // (light along the fibre meets less of it than half the angle tells)
  return gaussian(from + to - leaning, width) / std::max(half * half, in.cosine * in.cosine);
}

struct Both {
  Angles in, out;
  float halfAround;  ///< the cosine of half the angle between them around the fibre
};
Both bothOf(const FibreLight& light) {
  Both b{anglesOf(light.tangent, light.toLight), anglesOf(light.tangent, light.toViewer), 0};
  b.halfAround = std::sqrt(std::max(0.f, 0.5f * (1 + std::clamp(b.in.around.dot(b.out.around), -1.f, 1.f))));
  return b;
}

float fresnel(const Both& b) {
  const float away =
      1 -
      std::clamp(b.halfAround * std::cos(0.5f * (std::asin(b.in.sine) - std::asin(b.out.sine))), 0.f, 1.f);
  const float away2 = away * away;
  return kReflectance + (1 - kReflectance) * away2 * away2 * away;
}

}  // namespace

float fibreWidth(float shine) {
  return 0.1f + 0.35f * (1 - std::clamp(shine, 0.f, 1.f));
}

Vec3 throughAndBack(const Vec3& absorption) {
  // twice across, most of it not through the middle
  constexpr float kWay = 4 * 0.785f;
  return (-kWay * absorption).array().exp().matrix();
}

float scatteredFirst(const FibreLight& light, float shine) {
  const Both b = bothOf(light);
  // (a viewer sees the lean at the angle of light, which is twice that of the half)
  return fresnel(b) * along(b.in, b.out, -2 * kCuticleTilt, fibreWidth(shine)) * 0.25f * b.halfAround *
         b.in.cosine;
}

Vec3 scattered(const FibreLight& light, const Vec3& absorption, float shine) {
  const Both b = bothOf(light);
  const float left = (1 - fresnel(b)) * (1 - fresnel(b));
  const float second = kInside * left * along(b.in, b.out, 3 * kCuticleTilt, 2 * fibreWidth(shine)) * 0.25f *
                       b.halfAround * b.in.cosine;
  return Vec3::Constant(scatteredFirst(light, shine)) + second * throughAndBack(absorption);
}

Vec3 mirroredByFibre(const Vec3& tangent, const Vec3& toViewer) {
  // of all directions on the cone the one next to the viewer: it and the viewer lean either way
  const Angles out = anglesOf(tangent, toViewer);
  const float sine = std::sin(-std::asin(out.sine) - 2 * kCuticleTilt);
  return sine * tangent + std::sqrt(std::max(0.f, 1 - sine * sine)) * out.around;
}

}  // namespace juvenor
