// The camera a photo was taken with, from places of it pinned to places of the skin: where it stood, how it
// was turned, and its focal length. The photo's middle is taken for the lens's. What is made least is the
// distance between the pins and where the camera sees their places (the gold standard of Hartley and
// Zisserman 2004, 7.2), by Levenberg and Marquardt's way, begun from all around, so that no first guess is
// needed.
#pragma once

#include <span>

#include "core/progress.h"
#include "core/result.h"
#include "core/view/camera.h"

namespace juvenor {

/// A place of a photo, x to the right and y up from its middle, its longer side going from −1 to 1, and where
/// it is in the scene.
struct CameraPin {
  Vec2 onPicture = Vec2::Zero();
  Vec3 inScene = Vec3::Zero();
};

inline constexpr size_t kFewestCameraPins = 4;

struct SolvedCamera {
  Camera camera;      ///< its field of view is that of the photo's height
  float missing = 0;  ///< root of the mean squared distance of pins and what it sees, in half long sides
};

/// `aspect` is the photo's height over its longer side, at most 1. With a focal length known (`fieldOfView`
/// in degrees over the photo's height) only the rest is sought; four pins, or pins in a plane, hardly tell
/// it, and then it stays near the usual. The error says what of the pins does not suffice.
Result<SolvedCamera> solveCamera(std::span<const CameraPin> pins, float aspect,
                                 std::optional<float> fieldOfView = {});

}  // namespace juvenor
