#include "app/engine/viewing.h"

namespace juvenor::app {

Light lightIn(const Viewing& viewing) {
  return viewing.lightFollows ? turnedWith(viewing.light, viewing.camera) : viewing.light;
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
