// Taking a graft: the patch's triangles are drawn into a flat picture, which is softened at its rim. Relief
// is what stands out from what is broader than a cut, a high-pass in the picture (a Gaussian, normalized
// where skin ends: Knutsson, Westin 1993); so is the sculpt's own form, as the way from its softened shape
// along the normal.
#pragma once

#include "core/graft/graft.h"
#include "core/graft/patch.h"
#include "core/surface/surface.h"

namespace juvenor {

/// What is taken: the skin as it is composited, or what differs between two.
struct GraftSkin {
  ChannelFields fields;                           ///< opaque, as the composite is
  std::vector<float> heights = {};                ///< in place of its relief, scene units; empty: that
  std::shared_ptr<const ScalarField> cover = {};  ///< how much of it counts, 65535 all; null: all
  float reliefStep = 1;                           ///< scene units between two heights
};

/// What is other in one skin than in another: its colours, weighed by ΔE2000 (whole from 4 up), and what its
/// heights are more.
GraftSkin differenceOf(const ChannelFields& before, const ChannelFields& after, float reliefStep);

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
