// The cameras and variants demo documents come with.
#pragma once

#include "demo/demo.h"

namespace juvenor::demo {

/// Views of the whole, from a side, and of the eyes through an open lens; versions of the skin a client might
/// choose from.
Document withCamerasAndVariants(Document document, Figure figure);

}  // namespace juvenor::demo
