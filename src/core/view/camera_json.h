// A camera as files have it.
#pragma once

#include <nlohmann/json.hpp>

#include "core/result.h"
#include "core/view/camera.h"

namespace juvenor {

nlohmann::json toJson(const Camera& camera);
/// What is not said stays as Camera begins. The error says what is wrong, to be put after "a camera that".
Result<Camera> cameraFromJson(const nlohmann::json& json);

}  // namespace juvenor
