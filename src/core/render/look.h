// How one looks at a document: light, view and camera. They belong to its file and come back with it.
#pragma once

#include <nlohmann/json.hpp>

#include "core/render/picture.h"

namespace juvenor {

struct Look {
  Light light;
  bool lightFollows = true;  ///< the light goes with the view; otherwise it stands still in the scene
  View view = View::Skin;
  bool lines = false;  ///< the sculpt's polygon edges over it
  Camera camera;
  std::string stage;  ///< of the course one was at; empty: not said
};

nlohmann::json toJson(const Look& look);
/// Every value is checked; the surroundings' panorama is not read yet.
Result<Look> lookFrom(const nlohmann::json& json);

}  // namespace juvenor
