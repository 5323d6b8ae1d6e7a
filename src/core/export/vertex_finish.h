// What a sculpt's file carries beside the sculpt.
#pragma once

#include "core/document/document.h"
#include "core/sculpt/formats.h"

namespace juvenor {

/// The composite at every vertex of the sculpt, with the surface's normals.
VertexFinish finishOf(const Document& document, const ColorField& composite);

}  // namespace juvenor
