// The eyes of both figures: a weathered man's, and those of mudskipper folk.
#pragma once

#include "core/document/document.h"
#include "demo/demo.h"

namespace juvenor::demo {

Result<Document> withEyes(const Document& document, Figure figure);

}  // namespace juvenor::demo
