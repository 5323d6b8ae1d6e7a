// A UV set where there is none: charts cut along creases and hidden places, laid flat as rigidly as possible,
// and packed into tiles.
#pragma once

#include "core/document/document.h"

namespace juvenor {

struct UnwrapSetting {
  std::string name = "Unwrapped";
  int tiles = 1;
  float padding = 0.004f;     ///< between islands; a tile is 1
  float mostStretch = 1.15f;  ///< L² of any island; where it is more it is cut again
  /// Triangles on which the cuts are sought; a mesh of more than five times as many is made coarser for it.
  size_t coarse = 60'000;
};

struct Unwrapped {
  UvSet set;
  size_t islands = 0;
  float stretch = 1;  ///< L², mean over the skin
  float filled = 0;   ///< part of the tiles
};

/// `hidden`: for each vertex 0 in the open … 1 closed in; empty: only creases are known.
Result<Unwrapped> unwrapped(const Sculpt& sculpt, const UnwrapSetting& setting,
                            std::span<const float> hidden = {}, const Progress& progress = {});

/// What is hidden of a sculpt by itself, for that: occlusion at its vertices.
Result<std::vector<float>> hiddenAtVertices(const Sculpt& sculpt, const Progress& progress = {});

/// A document with such a set of its own, cut where its sculpt is hidden. `made`, where given, receives how
/// well it lies.
Result<Document> withUnwrapped(const Document& document, const UnwrapSetting& setting,
                               const Progress& progress = {}, Unwrapped* made = nullptr);

}  // namespace juvenor
