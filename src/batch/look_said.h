// How a document is looked at, as the shell and scripts say it: a kept camera, or a side with turns; a light,
// a focus, a backdrop. What is not said of a kept camera stays as it was kept.
#pragma once

#include <CLI/CLI.hpp>
#include <optional>

#include "core/document/document.h"

namespace juvenor::batch {

struct LookSaid {
  std::string camera;  ///< a kept one's name; empty: none
  std::optional<std::string> view, from, part;
  std::optional<std::string> light;  ///< overcast, lamps, surroundings; a number is the overcast sky's dial
  std::optional<std::string> surroundings;  ///< a made panorama's key or a file; given: that is the light
  std::optional<float> dial, exposure;      ///< degrees the light is turned by; stops
  float turn = 0, tilt = 0, nearer = 1;     ///< degrees; times
  bool parallel = false;
};
/// What says more of a still than of a quick picture.
struct StillSaid {
  LookSaid look;
  std::string size = "1920x1080";
  int samples = 64;
  std::optional<float> aperture;        ///< the f-number
  std::optional<std::string> sharp;     ///< X,Y,Z in scene units
  std::optional<std::string> backdrop;  ///< #rrggbb, #rrggbb-#rrggbb, surroundings, or a picture's file
  std::optional<float> blur;
  bool ground = false;
  float bloom = 0, vignette = 0, grain = 0;
};

void addLook(CLI::App& command, LookSaid& said);
void addStill(CLI::App& command, StillSaid& said);

Result<ViewSize> sizeFrom(const std::string& text);
/// The look on a picture of a size; the light's panorama is read, and stands in the scene as it is shown.
Result<Look> lookFrom(const LookSaid& said, const Document& document, const ViewSize& size);
Result<Look> lookFrom(const StillSaid& said, const Document& document, const ViewSize& size);
/// The kept camera of that name; the error lists those there are.
Result<Look> keptLook(const Document& document, const std::string& name);

}  // namespace juvenor::batch
