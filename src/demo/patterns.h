// What grows on the ferryman's skin.
#pragma once

#include "core/document/document.h"

namespace juvenor::demo {

/// Hide that dies out at lids, lips and belly, marks down the back, and bands on the fins.
Result<Document> ferrymanPatterns(Document document);

}  // namespace juvenor::demo
