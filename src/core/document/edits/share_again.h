// What checkpoints shared with the layers they were kept of, and with each other, they share again after each
// was worked out by itself for another surface.
#pragma once

#include "core/document/document.h"

namespace juvenor {

void shareAgain(Document& document);

}  // namespace juvenor
