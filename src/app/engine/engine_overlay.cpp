// What lies over the skin: a map, what a mask hides, the sculpt's lines.
#include <algorithm>

#include "app/engine/engine_work.h"
#include "core/document/edits/edits.h"

namespace juvenor::app {

// The sculpt's lines, once they are there.
void EngineWork::refreshLines() {
  lines_.reset();
  if (!viewing_.lines || !document_.maps) return;
  if (!arePolygonLinesReady(*document_.maps)) return;
  if (const auto lines = polygonLinesOf(*document_.maps, *document_.sculpt)) lines_ = *lines;
}

const PreparedLayer* EngineWork::maskedLayer() const {
  const auto layer =
      std::ranges::find_if(stack_, [&](const PreparedLayer& p) { return p.layer->id == viewing_.masked; });
  return layer == stack_.end() ? nullptr : &*layer;
}

// What lies over the skin now: a map, or a mask with what its maps and its paint hide together.
void EngineWork::refreshOverlay() {
  overlay_.reset();
  if (!document_.maps) return;
  if (viewing_.shows && viewing_.shows->size() == document_.maps->size()) {
    overlay_ = *viewing_.shows;
    return;
  }
  if (viewing_.map) {
    const MaskTerms shown{*viewing_.map};
    if (!isMaskReady(*document_.maps, shown)) return;
    if (const auto map = maskOf(*document_.maps, shown)) overlay_ = **map;
    return;
  }
  if (!viewing_.masked) return;
  if (*viewing_.masked == kGuard) {
    overlay_ = stroke_ && stroke_->onGuard() ? std::optional(stroke_->mask()) : document_.guard;
    return;
  }
  const PreparedLayer* layer = maskedLayer();
  if (!layer) return;
  if (isPainted(*layer)) {
    overlay_ = layer->layer->mask;
    return;
  }
  overlay_ = wholeMask(*layer, document_.maps->size());
}

}  // namespace juvenor::app
