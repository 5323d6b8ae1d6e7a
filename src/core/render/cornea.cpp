#include "core/render/cornea.h"

#include <algorithm>
#include <cmath>

#include "core/layers/nesting.h"
#include "core/layers/sources/eyes.h"

namespace juvenor {

std::optional<Vec3> refracted(const Vec3& direction, const Vec3& normal, float ratio) {
  const float cosine = -direction.dot(normal), rest = 1 - ratio * ratio * (1 - cosine * cosine);
  if (rest < 0) return std::nullopt;
  return Vec3(ratio * direction + (ratio * cosine - std::sqrt(rest)) * normal);
}

Fresnel fresnelOf(float cosine, float index) {
  const float in = std::clamp(cosine, 0.f, 1.f), sine2 = (1 - in * in) / (index * index);
  if (sine2 >= 1) return {1, 1};
  const float out = std::sqrt(1 - sine2);
  const float across = (in - index * out) / (in + index * out),
              along = (index * in - out) / (index * in + out);
  return {across * across, along * along};
}

float irisPlane(float radius, float iris, float recess) {
  return std::sqrt(std::max(0.f, radius * radius - iris * iris)) - recess;
}

std::vector<Cornea> corneasOf(const LayerStack& layers) {
  constexpr float kSeen = 0.5f;
  std::vector<Cornea> out;
  for (size_t i = 0; i < layers.size(); ++i) {
    const Layer& layer = *layers[i];
    const Eyes* eyes = layer.source ? eyesOf(*layer.source) : nullptr;
    if (!eyes || layer.opacity < kSeen || !takesPart(layers, i)) continue;
    for (const EyeBall& ball : eyes->balls) {
      const float iris = std::min(eyes->iris, 0.98f * ball.radius);
      out.push_back(
          {ball.part, ball.center, ball.look, ball.radius, iris, irisPlane(ball.radius, iris, eyes->recess)});
    }
  }
  return out;
}

float corneaAt(const Cornea& cornea, uint32_t part, const Vec3& place) {
  // beyond the rim it grows into the white; skin that far off a ball without a part lies on it
  constexpr float kWhole = 1, kEnd = 1.08f, kOnBall = 0.1f, kBulge = 0.3f;
  const Vec3 from = place - cornea.center;
  const float ahead = from.dot(cornea.look), far = from.norm();
  if (ahead <= 0 || !(far > 0)) return 0;
  if (cornea.part == kNone ? std::abs(far - cornea.radius) > kOnBall * cornea.radius
                           : part != cornea.part || far > (1 + kBulge) * cornea.radius)
    return 0;
  const float aside = cornea.radius * std::sqrt(std::max(0.f, 1 - ahead * ahead / (far * far))) / cornea.iris;
  const float t = std::clamp((kEnd - aside) / (kEnd - kWhole), 0.f, 1.f);
  return t * t * (3 - 2 * t);
}

Vec3 irisSeen(const Cornea& cornea, const Vec3& place, const Vec3& normal, const Vec3& toViewer) {
  const Vec3 from = place - cornea.center;
  const auto way = refracted(-toViewer, normal, 1 / kCorneaIndex);
  Vec3 at = from;
  if (way) {
    const float down = -way->dot(cornea.look), above = from.dot(cornea.look) - cornea.plane;
    // a look along the disc never meets it
    if (above > 0) at += above / std::max(0.05f, down) * *way;
  }
  at -= at.dot(cornea.look) * cornea.look;
  const float aside = at.norm();
  return aside > cornea.iris ? Vec3(cornea.iris / aside * at) : at;
}

Vec3 paintedBefore(const Cornea& cornea, const Vec3& onDisc) {
  const Vec3 aside = onDisc / cornea.radius;
  return (aside + std::sqrt(std::max(0.f, 1 - aside.squaredNorm())) * cornea.look).normalized();
}

}  // namespace juvenor
