#include <fmt/format.h>

#include <algorithm>

#include "core/document/edits/edits.h"
#include "core/document/edits/seated_zones.h"
#include "core/layers/group.h"
#include "core/layers/nesting.h"
#include "core/layers/sources/fill.h"
#include "core/layers/sources/painted.h"

namespace juvenor {
namespace {

// The document with `edit` done to a copy of one layer.
template <class Edit>
Result<Document> edited(const Document& document, uint32_t id, Edit edit) {
  const size_t at = placeOf(document, id);
  if (at == document.layers.size()) return Error{fmt::format("there is no layer {}", id)};
  Layer layer = *document.layers[at];
  const Outcome done = edit(layer);
  if (!done) return done.error();
  Document out = document;
  out.layers[at] = std::make_shared<Layer>(std::move(layer));
  return out;
}

}  // namespace

Result<Document> withLayerChanged(const Document& document, uint32_t id, const LayerChange& change) {
  return edited(document, id, [&](Layer& layer) -> Outcome {
    if (change.name) layer.name = *change.name;
    if (change.blend) layer.blend = *change.blend;
    if (change.opacity) layer.opacity = std::clamp(*change.opacity, 0.f, 1.f);
    if (change.visible) layer.visible = *change.visible;
    if (change.locked) layer.locked = *change.locked;
    if (change.maskOff) layer.maskOff = *change.maskOff;
    if (change.keepsCover) layer.keepsCover = *change.keepsCover;
    if (change.passes) {
      if (!groupOf(*layer.source)) return Error{fmt::format("'{}' is no group", layer.name)};
      layer.source = groupSource({*change.passes});
    }
    if (change.fill) {
      auto values = fillValues(*layer.source);
      if (!values) return Error{fmt::format("'{}' is not a fill layer", layer.name)};
      values->color = *change.fill;
      layer.source = fillSource(*values);
    }
    if (change.values) {
      if (!fillValues(*layer.source)) return Error{fmt::format("'{}' is not a fill layer", layer.name)};
      layer.source = fillSource(*change.values);
    }
    for (size_t c = 0; c < kChannelCount; ++c) {
      if (!change.mode[c]) continue;
      if (!hasMode(kChannels[c].rule, *change.mode[c]))
        return Error{fmt::format("{} knows no mode '{}'", kChannels[c].key, channelModeKey(*change.mode[c]))};
      layer.modes[c] = *change.mode[c];
    }
    for (size_t c = 0; c < kChannelCount; ++c)
      if (change.strength[c])
        layer.strengths.value[c] = std::clamp(*change.strength[c], kChannels[c].leastStrength, 1.f);
    return Done{};
  });
}

Result<Document> withPainted(const Document& document, uint32_t id, ChannelFields fields) {
  return edited(document, id, [&](Layer& layer) -> Outcome {
    layer.source = paintedSource(std::move(fields));
    return Done{};
  });
}

Result<Document> withPainted(const Document& document, uint32_t id, ColorField color) {
  const LayerPointer layer = layerOf(document, id);
  ChannelFields fields =
      layer && layer->source->fields() ? *layer->source->fields() : ChannelFields(color.size());
  fields.color() = std::move(color);
  return withPainted(document, id, std::move(fields));
}

Result<Document> withSource(const Document& document, uint32_t id, SourcePointer source) {
  return edited(document, id, [&](Layer& layer) -> Outcome {
    if (&layer.source->kind() != &source->kind())
      return Error{fmt::format("'{}' is a {} layer, not one of {}", layer.name, layer.source->kind().key,
                               source->kind().key)};
    layer.source = seated(document, std::move(source));
    return Done{};
  });
}

Result<Document> withMaskTerms(const Document& document, uint32_t id, MaskTerms terms,
                               const Progress& progress) {
  if (!terms.empty())
    if (const auto ready = maskOf(*document.maps, terms, progress); !ready) return ready.error();
  return edited(document, id, [&](Layer& layer) -> Outcome {
    layer.terms = std::move(terms);
    return Done{};
  });
}

Result<Document> withMaskSteps(const Document& document, uint32_t id, MaskSteps steps) {
  return edited(document, id, [&](Layer& layer) -> Outcome {
    layer.steps = std::move(steps);
    return Done{};
  });
}

Outcome paintable(const Document& document, uint32_t id, bool onMask) {
  const LayerPointer layer = layerOf(document, id);
  if (!layer) return Error{"There is no layer to paint on. Add one with “+ layer” in the Strata."};
  if (!layer->visible) return Error{fmt::format("“{}” is hidden. Show it to paint on it.", layer->name)};
  for (const size_t g : groupsAround(document.layers, placeOf(document, id))) {
    const Layer& group = *document.layers[g];
    if (!group.visible)
      return Error{
          fmt::format("the group “{}” is hidden. Show it to paint on “{}”.", group.name, layer->name)};
    if (group.locked)
      return Error{
          fmt::format("the group “{}” is locked. Unlock it to paint on “{}”.", group.name, layer->name)};
  }
  if (layer->locked) return Error{fmt::format("“{}” is locked. Unlock it to paint on it.", layer->name)};
  if (onMask && !layer->mask) return Error{fmt::format("“{}” has no mask yet. Add one first.", layer->name)};
  if (!onMask && !layer->source->fields())
    return Error{
        fmt::format("“{}” is a {} layer: its colours are worked out. Paint its mask, or add a painted layer.",
                    layer->name, layer->source->kind().key)};
  return Done{};
}

}  // namespace juvenor
