#include <algorithm>

#include "core/document/edits/edit_groups.h"
#include "core/document/edits/edits.h"
#include "core/document/edits/seated_zones.h"
#include "core/layers/nesting.h"
#include "core/layers/sources/fill.h"
#include "core/layers/sources/painted.h"

namespace juvenor {
namespace {

size_t topOf(const Document& d, Stratum stratum) {
  return static_cast<size_t>(
      std::ranges::count_if(d.layers, [&](const auto& l) { return l->stratum <= stratum; }));
}

// Where a new layer goes: into the group that is active, else right above the active layer and what hangs on
// it.
struct Spot {
  size_t at = 0;
  uint32_t group = 0;
};

Spot spotFor(const Document& document, Stratum stratum) {
  const LayerPointer active = layerOf(document, document.activeLayer);
  if (!active || active->stratum != stratum) return {topOf(document, stratum), 0};
  const size_t place = placeOf(document, active->id);
  if (isGroup(*active)) return {place, active->id};
  return {hangingEndOf(document.layers, place), active->group};
}

Document inserted(const Document& document, Layer layer) {
  Document out = document;
  const Spot spot = spotFor(document, layer.stratum);
  layer.id = out.nextLayer++;
  layer.group = spot.group;
  out.activeLayer = layer.id;
  out.layers.insert(out.layers.begin() + static_cast<std::ptrdiff_t>(spot.at),
                    std::make_shared<Layer>(std::move(layer)));
  return out;
}

}  // namespace

Document withSourceLayer(const Document& document, std::string name, Stratum stratum, SourcePointer source) {
  Layer layer;
  layer.name = std::move(name);
  layer.stratum = stratum;
  layer.source = seated(document, std::move(source));
  return inserted(document, std::move(layer));
}

Document withPaintedLayer(const Document& document, std::string name, Stratum stratum) {
  return withSourceLayer(document, std::move(name), stratum,
                         paintedSource(ChannelFields(document.surface->size())));
}

Document withFillLayer(const Document& document, std::string name, Stratum stratum,
                       const EncodedColor& color) {
  return withSourceLayer(document, std::move(name), stratum, fillSource(color));
}

Result<Document> withoutLayer(const Document& document, uint32_t id) {
  return withoutLayers(document, {{id}});
}

Result<Document> withDuplicate(const Document& document, uint32_t id) {
  return withDuplicates(document, {{id}});
}

Result<Document> withLayerMoved(const Document& document, uint32_t id, Stratum stratum, size_t above) {
  return withLayersMoved(document, {{id}}, {stratum, 0, above});
}

}  // namespace juvenor
