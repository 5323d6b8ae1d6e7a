#include <fmt/format.h>
#include <algorithm>

#include "core/document/edits/edits.h"
#include "core/document/edits/seated_zones.h"
#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/blend_chunk.h"
#include "core/layers/composite/combine_chunk.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/fill.h"
#include "core/layers/sources/painted.h"
#include "core/surface/map_field.h"

namespace juvenor {
namespace {

Error noSuchLayer(uint32_t id) {
  return {fmt::format("there is no layer {}", id)};
}

size_t topOf(const Document& d, Stratum stratum) {
  return static_cast<size_t>(
      std::ranges::count_if(d.layers, [&](const auto& l) { return l->stratum <= stratum; }));
}

Document inserted(const Document& document, Layer layer) {
  Document out = document;
  layer.id = out.nextLayer++;
  const LayerPointer active = layerOf(document, document.activeLayer);
  const size_t at = active && active->stratum == layer.stratum ? placeOf(document, active->id) + 1
                                                               : topOf(document, layer.stratum);
  out.activeLayer = layer.id;
  out.layers.insert(out.layers.begin() + static_cast<std::ptrdiff_t>(at),
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
  const size_t at = placeOf(document, id);
  if (at == document.layers.size()) return noSuchLayer(id);
  Document out = document;
  out.layers.erase(out.layers.begin() + static_cast<std::ptrdiff_t>(at));
  if (out.activeLayer == id) out.activeLayer = out.layers.empty() ? 0 : out.layers[at > 0 ? at - 1 : 0]->id;
  return out;
}

Result<Document> withDuplicate(const Document& document, uint32_t id) {
  const size_t at = placeOf(document, id);
  if (at == document.layers.size()) return noSuchLayer(id);
  Document out = document;
  Layer copy = *document.layers[at];
  copy.id = out.nextLayer++;
  copy.name += " copy";
  copy.locked = false;
  out.activeLayer = copy.id;
  out.layers.insert(out.layers.begin() + static_cast<std::ptrdiff_t>(at) + 1,
                    std::make_shared<Layer>(std::move(copy)));
  return out;
}

Result<Document> withLayerMoved(const Document& document, uint32_t id, Stratum stratum, size_t above) {
  const size_t at = placeOf(document, id);
  if (at == document.layers.size()) return noSuchLayer(id);
  Document out = document;
  auto moved = std::make_shared<Layer>(*document.layers[at]);
  moved->stratum = stratum;
  out.layers.erase(out.layers.begin() + static_cast<std::ptrdiff_t>(at));
  size_t first = 0;
  while (first < out.layers.size() && out.layers[first]->stratum < stratum) ++first;
  size_t last = first;
  while (last < out.layers.size() && out.layers[last]->stratum == stratum) ++last;
  const size_t to = first + std::min(above, last - first);
  out.layers.insert(out.layers.begin() + static_cast<std::ptrdiff_t>(to), std::move(moved));
  return out;
}

namespace {

// Two layers of a stack that become one.
struct Merging {
  const PreparedStack& stack;
  const PreparedLayer &lower, &upper;
  const EncodedColor& bare;
};

float amountOf(const PreparedLayer& p, Channel channel) {
  return p.layer->opacity * p.layer->strengths[channel];
}

// The lower layer's own mask and opacity are put into its colours first; its blend mode stays with the
// result.
std::shared_ptr<ColorChunk> mergedColors(const Merging& m, size_t index) {
  const ColorField::Pointer below = ownChunk(m.stack, m.lower.layer->id, m.bare, index),
                            over = ownChunk(m.stack, m.upper.layer->id, m.bare, index);
  if (!below && !over) return nullptr;
  auto out = std::make_shared<ColorChunk>();
  ScalarChunk scratch;
  if (below)
    blendChunk(BlendMode::Normal, *out, *below, maskChunk(m.lower, index, scratch),
               amountOf(m.lower, Channel::Color));
  if (over)
    blendChunk(m.upper.layer->blend, *out, *over, maskChunk(m.upper, index, scratch),
               amountOf(m.upper, Channel::Color));
  return out;
}

template <Channel C>
std::shared_ptr<Chunk<factsOf(C).planes()>> mergedChunk(const Merging& m, size_t index) {
  std::shared_ptr<Chunk<factsOf(C).planes()>> out;
  for (const PreparedLayer* p : {&m.lower, &m.upper}) {
    const auto own = ownChunk<C>(*p, index);
    if (!own) continue;
    if (!out) out = ChannelField<C>(kChunkSize, nothingOf<C>()).writable(0);
    ScalarChunk scratch;
    combineChunk(*out, *own, maskChunk(*p, index, scratch), amountOf(*p, C));
  }
  return out;
}

}  // namespace

Result<Document> withMergedDown(const Document& document, uint32_t id) {
  const size_t at = placeOf(document, id);
  if (at == document.layers.size()) return noSuchLayer(id);
  if (at == 0) return Error{"there is no layer below to merge into"};
  const Layer &upper = *document.layers[at], &lower = *document.layers[at - 1];
  if (!upper.visible || !lower.visible)
    return Error{"one of the two layers is hidden; show both, then merge"};
  if (lower.locked || upper.locked) return Error{"one of the two layers is locked"};
  auto stack = prepared(document.layers, *document.maps);
  if (!stack) return stack.error();
  if (const Outcome whole = withoutTrouble(*stack); !whole) return whole.error();
  *stack = linked(std::move(*stack), document.bare, document.surface->size());
  const Merging merging{*stack, (*stack)[at - 1], (*stack)[at], document.bare};
  ChannelFields merged(document.surface->size());
  eachChannel([&](auto c) {
    if (!(lower.source->channels() | upper.source->channels()).has(c())) return;
    merged.get<c()>() = mapField(merged.get<c()>(), [&](size_t i, size_t, size_t) {
      if constexpr (factsOf(c()).rule == ChannelRule::Blend)
        return mergedColors(merging, i);
      else
        return mergedChunk<c()>(merging, i);
    });
  });
  Layer result = lower;
  result.source = paintedSource(std::move(merged));
  result.mask.reset();
  result.terms.clear();
  result.opacity = 1;
  result.strengths = ChannelStrengths::all(1);
  Document out = document;
  out.layers[at - 1] = std::make_shared<Layer>(std::move(result));
  out.layers.erase(out.layers.begin() + static_cast<std::ptrdiff_t>(at));
  out.activeLayer = lower.id;
  return out;
}

}  // namespace juvenor
