// Taking a graft: the patch's triangles are drawn into a flat picture, which is softened at its rim. Relief
// is what stands out from what is broader than a cut, a high-pass in the picture (a Gaussian, normalized
// where skin ends: Knutsson, Westin 1993); so is the sculpt's own form, as the way from its softened shape
// along the normal.
#pragma once

#include <optional>

#include "core/graft/graft.h"
#include "core/graft/patch.h"
#include "core/surface/surface.h"

namespace juvenor {

/// What is taken: the skin as it is composited, or what is other in it than it was before. Of that the
/// colours count by ΔE2000 (wholly from 4 up), and of heights what they are more.
struct GraftSkin {
  ChannelFields fields;  ///< opaque, as the composite is
  std::optional<ChannelFields> before = {};
  float reliefStep = 1;  ///< scene units between two heights
};

struct GraftTake {
  int pixels = 1024;  ///< of the longer side
  ChannelSet channels = ChannelSet(Channel::Color) | Channel::Gloss | Channel::Relief;
  bool form = false;      ///< the sculpt's own form counts as relief
  float cut = 0;          ///< scene units: what of the relief is broader stays behind; 0: only its mean
  float feather = 0.15f;  ///< of the shorter side: over which it dies out toward its rim
  float millimetres = 1;  ///< of a scene unit
};

/// How much skin around a patch taking needs for its cut (scene units).
float marginFor(const GraftTake& take, const Vec2& half);

Result<Graft> takenGraft(const Surface& surface, const GraftSkin& skin, const PatchShape& shape,
                         const GraftTake& take, std::string name, const Progress& progress = {});

}  // namespace juvenor
