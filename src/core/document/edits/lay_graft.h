// What a pen is to be for a graft in hand: a stamp of it, the height of its relief, and its size.
#pragma once

#include "core/document/edits/paint_stroke.h"
#include "core/graft/graft.h"
#include "core/graft/take_graft.h"

namespace juvenor {

/// Half its longer side in scene units, as it was taken.
float radiusOf(const Graft& graft, const Document& document);

struct GraftLaying {
  uint32_t layer = 0;
  ChannelSet channels = ChannelSet::all();  ///< of those it brings
  float strength = 1;                       ///< 0…1
  bool adapts = false;                      ///< its tone takes on that of the skin around
};
/// For withStampPlaced and strokes. The error says why nothing of it can be laid.
Result<StrokeSetting> layingOf(const Graft& graft, const Document& document, const GraftLaying& laying,
                               const Progress& progress = {});

/// The skin a graft is taken from: all layers together.
Result<GraftSkin> graftSkinOf(const Document& document, const Progress& progress = {});
/// What differs between a checkpoint and another, or with 0 the work as it is.
Result<GraftSkin> graftSkinBetween(const Document& document, uint32_t before, uint32_t after,
                                   const Progress& progress = {});

}  // namespace juvenor
