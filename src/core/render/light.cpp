#include "core/render/light.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>
#include <numbers>

namespace juvenor {
namespace {

constexpr float kDegree = std::numbers::pi_v<float> / 180;

// The sky the dial turns, and what little a dark room sends back from all sides.
const EnvironmentPointer& overcast() {
  static const EnvironmentPointer sky = [] {
    Light light;
    light.dial = 0;
    const Panorama panorama =
        panoramaOf([&](const Vec3& d) { return Vec3(Vec3::Constant(radiance(light, d))); }, kMirrorWidth / 2);
    return std::make_shared<const Environment>(panorama, Environment::SunIs::Kept);
  }();
  return sky;
}

constexpr float kRoom = 0.07f;
const EnvironmentPointer& darkRoom() {
  static const EnvironmentPointer room = std::make_shared<const Environment>(panoramaOf([](const Vec3& d) {
    const float l = kRoom * (1 + 0.4f * d.y());
    return Vec3(l, l, l);
  }));
  return room;
}

}  // namespace

Vec3 patchDirection(const Light& light) {
  const float a = light.dial * kDegree, height = 0.65f;
  const float flat = std::sqrt(1 - height * height);
  return {flat * std::sin(a), height, flat * std::cos(a)};
}

Vec3 lampDirection(const Light& light, const Lamp& lamp) {
  const float a = (light.dial + lamp.around) * kDegree, up = lamp.up * kDegree;
  return {std::cos(up) * std::sin(a), std::sin(up), std::cos(up) * std::cos(a)};
}

Lamp mirroredAt(const Light& light, Lamp lamp, const Vec3& normal, const Vec3& toViewer) {
  const Vec3 d = 2 * normal.dot(toViewer) * normal - toViewer;
  lamp.up = std::asin(std::clamp(d.y(), -1.f, 1.f)) / kDegree;
  // one that stands straight above keeps the way it was turned
  if (d.x() * d.x() + d.z() * d.z() > 1e-8f)
    lamp.around = std::remainder(std::atan2(d.x(), d.z()) / kDegree - light.dial, 360.f);
  return lamp;
}

float radiance(const Light& light, const Vec3& d) {
  constexpr float kSky = 0.60f, kGround = 0.17f, kPatch = 0.75f, kThinnest = 20;
  const float up = d.y();
  // sky and ground melt into each other over a hazy horizon
  const float sky = kSky * (1 + 2 * std::max(0.f, up)) / 3 * 1.6f;
  const float mix = std::clamp(0.5f + 2.5f * up, 0.f, 1.f);
  const float toward = std::max(0.f, d.dot(patchDirection(light)));
  // where the cloud is thinnest the patch is bright enough to stand in an eye as a light
  const float patch = kPatch * std::pow(toward, 6.f) + kThinnest * std::pow(toward, 150.f);
  return mix * sky + (1 - mix) * kGround + light.patch * patch;
}

Harmonics harmonicsOf(const Light& light) {
  return projected([&](const Vec3& d) { return radiance(light, d); });
}

LitBy litBy(const Light& light) {
  LitBy out;
  const float angle = light.dial * kDegree;
  out.turn = {std::cos(angle), std::sin(angle)};
  if (light.kind == LightKind::Surroundings && light.environment) {
    out.environment = light.environment;
    out.brightness = light.brightness;
    for (size_t c = 0; c < 3; ++c) {
      out.soft[c] = turnedAround(light.environment->harmonics()[c], light.dial);
      for (float& v : out.soft[c]) v *= light.brightness;
    }
    if (const auto& sun = light.environment->sun())
      out.lamps[0] = {turnedAround(sun->toward, light.dial), light.brightness * sun->strength, sun->size};
    return out;
  }
  if (light.kind != LightKind::Lamps) {
    out.environment = overcast();
    out.soft.fill(harmonicsOf(light));
    return out;
  }
  out.environment = darkRoom();
  out.soft = darkRoom()->harmonics();
  for (size_t i = 0; i < kLampCount; ++i) {
    const Lamp& lamp = light.lamps[i];
    if (!lamp.on) continue;
    const LinearColor c = lampColor(lamp.kelvin);
    out.lamps[i] = {lampDirection(light, lamp), lamp.strength * Vec3(c.r, c.g, c.b), lamp.size * kDegree,
                    lamp.shineOnly};
  }
  return out;
}

Result<EnvironmentPointer> environmentFor(const std::string& surroundings) {
  static std::mutex mutex;
  static std::map<std::string, EnvironmentPointer> made;
  for (const MadePanorama& m : madePanoramas()) {
    if (m.key != surroundings) continue;
    const std::lock_guard hold(mutex);
    EnvironmentPointer& known = made[surroundings];
    if (!known) known = std::make_shared<const Environment>(m.make(kMirrorWidth));
    return known;
  }
  auto panorama = readPanorama(surroundings);
  if (!panorama) return panorama.error();
  return EnvironmentPointer(std::make_shared<const Environment>(*panorama));
}

}  // namespace juvenor
