#include "core/textures/handed_scene.h"

#include <cmath>
#include <numbers>

namespace juvenor {

HandedCamera handedCamera(const Camera& camera, float aspect, const Box& bounds) {
  HandedCamera out;
  out.pose.topLeftCorner<3, 3>() = viewAxes(camera);
  out.pose.topRightCorner<3, 1>() = camera.eye();
  out.fieldOfView = camera.fieldOfView * std::numbers::pi_v<float> / 180;
  out.aspect = aspect;
  if (camera.parallel) out.halfHeight = camera.distance * std::tan(0.5f * out.fieldOfView);
  const float away = (bounds.center() - camera.eye()).norm(), half = 0.5f * bounds.diagonal();
  out.farthest = away + 2 * half;
  out.nearest = std::max(1e-4f * out.farthest, away - 2 * half);
  return out;
}

std::vector<HandedLamp> handedLamps(const Light& light) {
  std::vector<HandedLamp> out;
  if (light.kind != LightKind::Lamps) return out;
  const LitBy by = litBy(light);
  for (size_t l = 0; l < kLampCount; ++l) {
    const float most = by.lamps[l].strength.maxCoeff();
    // (what is mirrored only would light where it goes)
    if (!(most > 0) || by.lamps[l].shineOnly) continue;
    HandedLamp lamp;
    lamp.name = std::string(kLampKeys[l]);
    lamp.toward = by.lamps[l].toward;
    lamp.color = by.lamps[l].strength / most;
    // white that faces a lamp of strength 1 is as bright as white: a Lambertian surface of albedo 1 does that
    // under π
    lamp.lux = most * std::numbers::pi_v<float>;
    out.push_back(std::move(lamp));
  }
  return out;
}

}  // namespace juvenor
