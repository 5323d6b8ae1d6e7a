// A rest pose from a sculpt of the same polygons.
#pragma once

#include "core/document/document.h"

namespace juvenor {

/// The document with the form of `rest`, as its file gave it, as its rest pose: vertices find each other as
/// they do when work is carried over. The error says that its polygons are others.
Result<Document> withRestFrom(const Document& document, const Sculpt& rest, const Progress& progress = {});

}  // namespace juvenor
