// Freckles, mottling, veins, a tattoo: the live and the laid markings of the demo documents.
#pragma once

#include "core/brush/stamp.h"
#include "core/document/document.h"

namespace juvenor::demo {

/// A ferry on the river in a ring.
StampPointer ferryStamp();

Result<Document> keeperMarkings(Document document);
Result<Document> ferrymanMarkings(Document document);

}  // namespace juvenor::demo
