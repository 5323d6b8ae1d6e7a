// How one looks at a document: light, view, camera, what is sharp and what stands behind. It belongs to its
// file and comes back with it; a camera that is kept (document/kept_camera.h) is one with a name.
#pragma once

#include <nlohmann/json.hpp>

#include "core/color/srgb.h"
#include "core/result.h"
#include "core/view/camera.h"
#include "core/view/light_setting.h"

namespace juvenor {

enum class View { Flat, Value, Channel, Clay, Skin };
std::string_view viewKey(View view);
std::optional<View> viewFromKey(std::string_view key);

/// What of a still is sharp (show/lens_rays.h).
struct Focus {
  float aperture = 0;  ///< the f-number, from kWidestAperture; 0: all is sharp
  std::optional<Vec3>
      sharp;  ///< a place in the scene at whose distance all is sharp; none: the middle of the picture
  bool operator==(const Focus& o) const { return aperture == o.aperture && sharp == o.sharp; }
};
inline constexpr float kWidestAperture = 0.7f, kNarrowestAperture = 64;

enum class BackdropKind { Plain, Gradient, Picture, Surroundings };
std::string_view backdropKindKey(BackdropKind kind);
std::optional<BackdropKind> backdropKindFromKey(std::string_view key);

/// What stands behind the sculpt in a still, and under it (show/backdrop.h).
struct Backdrop {
  BackdropKind kind = BackdropKind::Plain;
  EncodedColor color{0.424f, 0.424f, 0.424f};  ///< of Plain; of Gradient at the foot
  EncodedColor top{0.2f, 0.2f, 0.2f};          ///< of Gradient
  std::string picture;                         ///< a file, fitted so that it covers all
  float blur = 0.3f;                           ///< of the surroundings, 0…1
  bool ground = false;                         ///< a floor under the sculpt takes its shadow
  bool operator==(const Backdrop&) const = default;
};

struct Look {
  Light light;
  bool lightFollows = true;  ///< the light goes with the view; otherwise it stands still in the scene
  View view = View::Skin;
  bool lines = false;  ///< the sculpt's polygon edges over it
  Camera camera;
  Focus focus;
  Backdrop backdrop;
  std::string stage;  ///< of the course one was at; empty: not said
  bool operator==(const Look&) const = default;
};

nlohmann::json toJson(const Focus& focus);
Result<Focus> focusFromJson(const nlohmann::json& json);
nlohmann::json toJson(const Backdrop& backdrop);
Result<Backdrop> backdropFromJson(const nlohmann::json& json);

nlohmann::json toJson(const Look& look);
/// Every value is checked; the surroundings' panorama is not read yet.
Result<Look> lookFrom(const nlohmann::json& json);

/// The light as it stands in the scene for a view it goes with.
Light turnedWith(Light light, const Camera& camera);
/// The light of a look as it stands in the scene.
Light lightIn(const Look& look);

}  // namespace juvenor
