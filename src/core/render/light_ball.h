// A grey ball under a light, seen from the front: what shows a light's effect in a small picture.
#pragma once

#include "core/render/light.h"

namespace juvenor {

/// `edge` × `edge` pixels, 0xAARRGGBB, clear around the ball. The light is as the viewer meets it.
std::vector<uint32_t> lightBall(const Light& light, int edge);

}  // namespace juvenor
