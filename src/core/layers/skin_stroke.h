// Strokes that stay strokes: places along the skin that a live layer keeps and works out again whenever it is
// prepared, so that what was done by hand goes on when points are added or settings change.
#pragma once

#include <functional>
#include <nlohmann/json.hpp>
#include <vector>

#include "core/result.h"
#include "core/surface/mirror/mirrors.h"
#include "core/surface/surface.h"

namespace juvenor {

/// From place to place, along one part.
struct SkinStroke {
  std::vector<Vec3> places;  ///< on the skin, one at least, in the scene's axes
  uint32_t part = 0;
  float width = 10;                   ///< of the skin it works on, scene units
  float strength = 1;                 ///< of combs 0…1, of what works either way −1…1
  std::vector<float> pressures = {};  ///< of a pen at the places, 0…1; empty: 1 everywhere

  bool operator==(const SkinStroke&) const = default;
};

/// Calls `each(sample, weight)` once for each sample under a stroke: 1, or the pen's pressure, on its middle
/// line, fading smoothly to 0 at half its width. Skin that has turned away from what is stroked is not under
/// it.
void eachUnder(const Surface& surface, const SkinStroke& stroke,
               const std::function<void(uint32_t, float)>& each);

/// The strokes and their mirror images in the planes that are set, where skin lies there.
std::vector<SkinStroke> withMirrors(const Surface& surface, const SkinStroke& stroke,
                                    const std::array<bool, 3>& mirror, const Mirrors& mirrors = {});

nlohmann::json toJson(const std::vector<SkinStroke>& strokes);
/// What strokes have to be.
struct StrokeBounds {
  size_t places = 1;  ///< at least
  float weakest = 0;  ///< strength
};
/// The error says which stroke is wrong, after `called`: "comb".
Result<std::vector<SkinStroke>> strokesFrom(const nlohmann::json& json, std::string_view called,
                                            const StrokeBounds& bounds);

}  // namespace juvenor
