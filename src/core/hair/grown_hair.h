// The hair of a document, grown and ready for rays.
#pragma once

#include "core/document/document.h"
#include "core/hair/fibre_rays.h"

namespace juvenor {

/// Null where nothing grows; the error is a cancel, or names the layer that cannot be worked out.
Result<FibreRaysPointer> grownHair(const Document& document, const Progress& progress = {});

/// Of a stack that was worked out and linked on a surface.
Result<FibreRaysPointer> grownHair(const PreparedStack& stack, SurfaceMaps& maps,
                                   const std::set<uint32_t>& hidden, const Progress& progress = {});

}  // namespace juvenor
