// What one looks through and lights with, as a mesh takes it along.
#pragma once

#include "core/render/light.h"
#include "core/sculpt/material.h"
#include "core/view/camera.h"

namespace juvenor {

/// `aspect`: width over height of the picture; what lies in `bounds` is between its nearest and its farthest.
HandedCamera handedCamera(const Camera& camera, float aspect, const Box& bounds);
/// The lamps that are on; none in a light that comes from all around.
std::vector<HandedLamp> handedLamps(const Light& light);

}  // namespace juvenor
