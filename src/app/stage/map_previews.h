// Small pictures of what the maps of a document would hold.
#pragma once

#include <QImage>
#include <vector>

#include "core/document/document.h"
#include "core/textures/texture_wish.h"

namespace juvenor::app {

/// One for each map that is offered, of the first tile of one of the sculpt's layouts; null where a surface
/// map is not measured yet. Takes long: not on the window's thread.
Result<std::vector<QImage>> previews(const Document& document, size_t uvSet, const Progress& progress);

/// A larger one of a single map, of one tile; surface maps are measured for it.
Result<QImage> previewOf(const Document& document, const TextureWish& map, size_t uvSet, int tile,
                         const Progress& progress);

}  // namespace juvenor::app
