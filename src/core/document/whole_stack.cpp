#include "core/document/whole_stack.h"

#include "core/layers/composite/below_chunks.h"

namespace juvenor {

Result<PreparedStack> wholeStackOf(const Document& document, const Progress& progress, uint32_t also) {
  return wholeStackOf(document, document.layers, progress, also);
}

Result<PreparedStack> wholeStackOf(const Document& document, const LayerStack& layers,
                                   const Progress& progress, uint32_t also) {
  auto stack = prepared(layers, *document.maps, progress, {}, also);
  if (!stack) return stack;
  if (const Outcome whole = withoutTrouble(*stack); !whole) return whole.error();
  return linked(std::move(*stack), document.bare, document.surface->size());
}

}  // namespace juvenor
