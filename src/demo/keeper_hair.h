// Hair for the keeper's document.
#pragma once

#include "core/document/document.h"

namespace juvenor::demo {

/// The document with layers of hair: sides of the head, beard, brows and lashes.
Document withKeepersHair(const Document& document);

}  // namespace juvenor::demo
