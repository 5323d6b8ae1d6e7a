#include "core/document/edits.h"
#include "core/layers/prepared_layer.h"

namespace juvenor {
namespace {

Result<Refined> refinedBy(const Surface& surface, Refinement refinement, const Progress& progress) {
  return refinement > 0 ? refineTo(surface, refinement, kMostSamples, progress)
                        : refineOnce(surface, kMostSamples, progress);
}

}  // namespace

Result<Document> withRefinement(const Document& document, Refinement refinement, const Progress& progress) {
  auto refined = refinedBy(*document.surface, refinement, progress);
  if (!refined) return refined.error();
  Document out = document;
  setSurface(out, refined->surface);
  out.refinements.push_back(refinement);
  for (LayerPointer& pointer : out.layers) {
    Layer layer = *pointer;
    layer.source = layer.source->refined(*refined);
    if (layer.mask) layer.mask = refinedField(*layer.mask, refined->origins);
    pointer = std::make_shared<Layer>(std::move(layer));
  }
  if (out.guard) out.guard = refinedField(*out.guard, refined->origins);
  // what layers derive from the shape is measured anew on the finer surface
  const auto ready = prepared(out.layers, *out.maps, progress);
  if (!ready) return ready.error();
  return out;
}

Result<std::shared_ptr<const Surface>> surfaceAfter(const Sculpt& sculpt,
                                                    const std::vector<Refinement>& refinements,
                                                    const Progress& progress) {
  auto surface = buildSurface(sculpt, progress);
  for (const Refinement r : refinements) {
    if (!surface) return surface;
    auto refined = refinedBy(**surface, r, progress);
    if (!refined) return refined.error();
    surface = refined->surface;
  }
  return surface;
}

}  // namespace juvenor
