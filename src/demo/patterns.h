// What grows on the figures' skin.
#pragma once

#include "core/document/document.h"

namespace juvenor::demo {

/// Hide that dies out at lids, lips and belly, marks down the back, and bands on the fins.
Result<Document> ferrymanPatterns(Document document);

/// Pores, lozenges and folds all over the keeper, by the regions of his face; none on his eyes.
Result<Document> keeperSkin(Document document);

}  // namespace juvenor::demo
