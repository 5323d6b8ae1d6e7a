// What a sculpt's file brought of materials becomes layers one can paint over: colour, gloss and metal,
// relief from normals, and occlusion, which is offered but not seen at first.
#pragma once

#include "core/document/document.h"
#include "core/sculpt/material.h"

namespace juvenor {

struct Worn {
  Document document;
  std::vector<uint32_t> layers;  ///< that were made, by their ids
  float texelsAPoint = 0;  ///< how many texels across fall on a point in the middle; above 1 some are lost
  float texelSpacing = 0;  ///< scene units: points this close would keep them all; 0: nothing was worn
  std::vector<std::string> remarks;  ///< pictures that could not be read
};

/// Above the layers that are there, each in its stratum. The only error is a cancel, or memory.
Result<Worn> withWornMaterials(const Document& document, const BroughtMaterials& materials,
                               const Progress& progress = {});

/// The same textures anew on layers that were made of them before, for points that were added since. Only
/// those are filled whose number is in `layers`; what was painted on them goes.
Result<Document> withWornMaterialsAnew(const Document& document, const BroughtMaterials& materials,
                                       std::span<const uint32_t> layers, const Progress& progress = {});

}  // namespace juvenor
