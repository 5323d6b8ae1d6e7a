// The sheet of a document: its surface laid flat by a UV set, with what rays, borders and redrawing need.
#pragma once

#include "core/document/document.h"
#include "core/render/sheet.h"

namespace juvenor {

/// Errors: no such UV set, nothing that is laid out, no rays, a cancel. Where points were added it takes as
/// long as opening the document.
Result<SheetPointer> sheetOf(const Document& document, size_t uvSet, const Progress& progress = {});

}  // namespace juvenor
