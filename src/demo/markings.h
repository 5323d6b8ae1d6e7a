// Freckles, mottling, veins, a tattoo: the live and the laid markings of the demo documents.
#pragma once

#include "core/document/document.h"

namespace juvenor::demo {

Result<Document> keeperMarkings(Document document);
Result<Document> ferrymanMarkings(Document document);

}  // namespace juvenor::demo
