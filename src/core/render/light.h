// The lights one can judge skin under. Default is an overcast sky (Moon and Spencer 1942, CIE standard
// overcast sky: the zenith three times as bright as the horizon) with a soft bright patch, and some light
// from the ground, all neutral grey, so that no light tints the skin. Besides there are four lamps, the
// last of which is mirrored only, and surroundings as a panorama. One dial turns any of them.
#pragma once

#include "core/color/lamp_color.h"
#include "core/render/environment.h"
#include "core/view/light_setting.h"

namespace juvenor {

/// Unit direction toward the middle of the bright patch.
Vec3 patchDirection(const Light& light);
/// Unit direction toward a lamp of the light.
Vec3 lampDirection(const Light& light, const Lamp& lamp);

/// A lamp of the light turned so that a place whose unit normal is `normal` mirrors its middle to a viewer.
Lamp mirroredAt(const Light& light, Lamp lamp, const Vec3& normal, const Vec3& toViewer);

/// Radiance of the overcast sky toward `direction`, scaled so that a wall facing the viewer at dial 0
/// receives about one.
float radiance(const Light& light, const Vec3& direction);

/// The overcast sky as nine numbers; for irradiance nothing more is needed.
Harmonics harmonicsOf(const Light& light);

/// A light ready to be laid on skin.
struct LitBy {
  struct Source {
    Vec3 toward = Vec3::UnitY();
    Vec3 strength = Vec3::Zero();  ///< linear: what a wall that faces it receives; 0: off
    float size = 0;                ///< radians across
    bool shineOnly = false;        ///< it is mirrored and lights nothing
  };
  ColorHarmonics soft{};  ///< what comes from all around
  std::array<Source, kLampCount> lamps;
  EnvironmentPointer environment;  ///< what is mirrored, turned and dimmed
  Vec2 turn{1, 0};                 ///< cosine and sine of the angle around the upright axis
  float brightness = 1;
};
LitBy litBy(const Light& light);

/// Radiance that a lobe around a direction sees.
inline Vec3 mirrored(const LitBy& light, const Vec3& direction, float width) {
  if (!light.environment) return Vec3::Zero();
  return light.brightness * light.environment->blurred(turnedBack(direction, light.turn), width);
}

/// The panorama a key or a path names, ready to light with.
Result<EnvironmentPointer> environmentFor(const std::string& surroundings);

}  // namespace juvenor
