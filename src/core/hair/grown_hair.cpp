#include "core/hair/grown_hair.h"

#include "core/document/whole_stack.h"

namespace juvenor {

Result<FibreRaysPointer> grownHair(const PreparedStack& stack, SurfaceMaps& maps,
                                   const std::set<uint32_t>& hidden, const Progress& progress) {
  const auto rays = maps.rays(progress);
  if (!rays) return rays.error();
  const auto fibres = grownFibres(stack, **rays, hidden, progress);
  if (!fibres) return fibres.error();
  return buildFibreRays(*fibres);
}

Result<FibreRaysPointer> grownHair(const Document& document, const Progress& progress) {
  const LayerStack hair = hairLayers(document.layers);
  if (hair.empty()) return FibreRaysPointer();
  // a mask that another layer gives needs that one, too
  const bool alone = std::ranges::none_of(hair, [](const LayerPointer& l) { return l->maskFrom != 0; });
  const auto stack = wholeStackOf(document, alone ? hair : document.layers, progress);
  if (!stack) return stack.error();
  return grownHair(*stack, *document.maps, document.hiddenParts, progress);
}

}  // namespace juvenor
