#include "app/engine/viewing.h"

#include <cmath>
#include <numbers>

namespace juvenor::app {

Light lightIn(const Viewing& viewing) {
  Light out = viewing.light;
  const Vec3 back = viewing.camera.back();
  if (viewing.lightFollows && back.x() * back.x() + back.z() * back.z() > 1e-6f)
    out.dial += std::atan2(back.x(), back.z()) * 180 / std::numbers::pi_v<float>;
  return out;
}

StillSetting stillSettingOf(const Viewing& viewing) {
  StillSetting out;
  out.camera = viewing.camera;
  out.size = viewing.size;
  out.view = viewing.view;
  out.channel = viewing.channel;
  out.light = lightIn(viewing);
  out.background = viewing.background;
  return out;
}

}  // namespace juvenor::app
