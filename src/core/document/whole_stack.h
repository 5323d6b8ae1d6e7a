// All layers of a document worked out and told of each other: what edits and exports look at.
#pragma once

#include "core/document/document.h"
#include "core/layers/prepared_layer.h"

namespace juvenor {

/// Linked (below_chunks.h). `also`: a layer that is worked out though it shows nothing. The error is a cancel
/// or names the layer that cannot be worked out.
Result<PreparedStack> wholeStackOf(const Document& document, const Progress& progress = {},
                                   uint32_t also = 0);
/// Of other layers on the document's surface.
Result<PreparedStack> wholeStackOf(const Document& document, const LayerStack& layers,
                                   const Progress& progress = {}, uint32_t also = 0);

}  // namespace juvenor
