// A layer for another size and other places: every length its kind knows of times a factor, every place
// moved.
#pragma once

#include <functional>

#include "core/document/document.h"
#include "core/layers/sources/moved_skin.h"

namespace juvenor {

/// Where a place goes, and the part it is tied to there; nothing where there is no skin for it. `landmark`:
/// the key the place goes with, or empty.
using MovePlace = std::function<std::optional<MovedPlace>(const Vec3& place, const std::string& landmark)>;

struct ScaledLayer {
  LayerPointer layer;
  std::vector<std::string> lost;  ///< what found no place, in words
};
/// What was done by hand (sizes pushed, relief soothed, scales touched) and the mask stay behind. The error
/// says why the layer's kind does not take the numbers.
Result<ScaledLayer> scaledLayer(const Layer& layer, float by, const MovePlace& move);

}  // namespace juvenor
