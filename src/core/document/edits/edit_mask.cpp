#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/color/lab.h"
#include "core/document/edits/edits.h"
#include "core/document/whole_stack.h"
#include "core/layers/composite/composite.h"
#include "core/layers/filters/grown_mask.h"
#include "core/surface/graph/melt.h"
#include "core/surface/map_field.h"

namespace juvenor {
namespace {

// A mask with a value 0…1 at every sample, worked out on all cores.
template <class ValueAt>
ScalarField fieldOf(size_t samples, ValueAt valueAt) {
  const ScalarField open = openMask(samples);
  return mapField(open, [&](size_t c, size_t begin, size_t end) {
    auto chunk = open.writable(c);
    for (size_t s = begin; s < end; ++s) chunk->plane[0][s - begin] = to16(valueAt(s));
    return chunk;
  });
}

// As documents and files hold masks: what was never written reads as open. Whatever else a field says there
// is one chunk in all those places.
ScalarField openUnwritten(ScalarField field) {
  if (field.fallback() == openMask(0).fallback()) return field;
  ScalarField out = openMask(field.size());
  ScalarField::Pointer unwritten;
  for (size_t i = 0; i < field.chunkCount(); ++i) {
    if (!field.chunk(i) && !unwritten) unwritten = field.writable(i);
    out.setChunk(i, field.chunk(i) ? field.chunk(i) : unwritten);
  }
  return out;
}

Result<Document> withLayerMask(const Document& document, uint32_t id, std::optional<ScalarField> field) {
  const size_t at = placeOf(document, id);
  if (at == document.layers.size()) return Error{fmt::format("there is no layer {}", id)};
  Layer layer = *document.layers[at];
  layer.mask = std::move(field);
  Document out = document;
  out.layers[at] = std::make_shared<Layer>(std::move(layer));
  return out;
}

std::string nameOf(const Document& document, uint32_t id) {
  const LayerPointer layer = layerOf(document, id);
  return layer ? layer->name : std::string("the document");
}

}  // namespace

Result<ScalarField> maskFieldOf(const Document& document, uint32_t id) {
  if (id == kGuard) {
    if (!document.guard) return Error{"nothing is protected yet; paint with the Guard first"};
    return *document.guard;
  }
  const LayerPointer layer = layerOf(document, id);
  if (!layer) return Error{fmt::format("there is no layer {}", id)};
  if (!layer->mask) return Error{fmt::format("'{}' has no painted mask", layer->name)};
  return *layer->mask;
}

Result<Document> withMaskField(const Document& document, uint32_t id, ScalarField field) {
  field = openUnwritten(std::move(field));
  if (id != kGuard) return withLayerMask(document, id, std::move(field));
  Document out = document;
  out.guard = std::move(field);
  return out;
}

Result<Document> withMask(const Document& document, uint32_t id) {
  if (maskFieldOf(document, id)) return Error{fmt::format("'{}' has a mask already", nameOf(document, id))};
  if (id != kGuard && !layerOf(document, id)) return Error{fmt::format("there is no layer {}", id)};
  return withMaskField(document, id, openMask(document.surface->size()));
}

Result<Document> withoutMask(const Document& document, uint32_t id) {
  if (const auto mask = maskFieldOf(document, id); !mask) return mask.error();
  if (id != kGuard) return withLayerMask(document, id, std::nullopt);
  Document out = document;
  out.guard.reset();
  return out;
}

ScalarField inverted(const ScalarField& mask) {
  ScalarField out = mask;
  for (size_t i = 0; i < out.chunkCount(); ++i) {
    auto chunk = mask.writable(i);
    for (uint16_t& v : chunk->plane[0]) v = static_cast<uint16_t>(65535 - v);
    out.setChunk(i, std::move(chunk));
  }
  return out;
}

Result<Document> withInvertedMask(const Document& document, uint32_t id) {
  const auto mask = maskFieldOf(document, id);
  if (!mask) return mask.error();
  return withMaskField(document, id, inverted(*mask));
}

Result<Document> withMeltedMask(const Document& document, uint32_t id, float deviation) {
  const auto mask = maskFieldOf(document, id);
  if (!mask) return mask.error();
  if (!(deviation > 0)) return Error{"what a mask melts by must be above 0"};
  std::vector<float> values(mask->size());
  for (size_t s = 0; s < values.size(); ++s) values[s] = from16(mask->at(s)[0]);
  melt(*document.maps->ladder(), values, deviation);
  return withMaskField(document, id, fieldOf(values.size(), [&](size_t s) { return values[s]; }));
}

Result<Document> withGrownMask(const Document& document, uint32_t id, float way) {
  const auto mask = maskFieldOf(document, id);
  if (!mask) return mask.error();
  std::vector<float> values(mask->size());
  for (size_t s = 0; s < values.size(); ++s) values[s] = from16(mask->at(s)[0]);
  growMask(edgesOf(*document.surface), values, way, document.surface->spacing);
  return withMaskField(document, id, fieldOf(values.size(), [&](size_t s) { return values[s]; }));
}

Result<Document> withMaskFromParts(const Document& document, uint32_t id, const std::set<uint32_t>& parts) {
  const Surface& surface = *document.surface;
  return withMaskField(document, id, fieldOf(surface.size(), [&](size_t s) {
                         return parts.contains(surface.parts[s]) ? 1.f : 0.f;
                       }));
}

Result<Document> withMaskFromColors(const Document& document, uint32_t id,
                                    std::span<const EncodedColor> colors, float tolerance, float fade) {
  const auto composite = compositeOf(document.layers, *document.maps, document.bare);
  if (!composite) return composite.error();
  std::vector<Lab> wanted;
  for (const EncodedColor& c : colors) wanted.push_back(toLab(c));
  return withMaskField(document, id, fieldOf(composite->size(), [&](size_t s) {
                         const Lab here = toLab(straight(colorAt(*composite, s)));
                         double nearest = 1e9;
                         for (const Lab& w : wanted) nearest = std::min(nearest, deltaE2000(here, w));
                         const auto beyond = static_cast<float>(nearest) - tolerance;
                         return beyond <= 0 ? 1.f : fade > 0 ? std::max(0.f, 1 - beyond / fade) : 0.f;
                       }));
}

Result<Document> withMaskFromBrightness(const Document& document, uint32_t id, const MaskTerm& term) {
  const LayerPointer layer = layerOf(document, id);
  if (id != kGuard && !layer) return Error{fmt::format("there is no layer {}", id)};
  const auto stack = wholeStackOf(document, {}, id);
  if (!stack) return stack.error();
  const ScalarField open = openMask(document.surface->size());
  auto out = mapField(open, [&](size_t c, size_t, size_t) {
    const auto colors =
        layer ? ownChunk(*stack, id, document.bare, c) : compositeChunk(*stack, document.bare, c);
    auto chunk = open.writable(c);
    for (size_t i = 0; i < kChunkSize; ++i) {
      // where the layer has no colour there is nothing to hide or show
      const Rgba16 here = colors ? sampleOf(*colors, i) : Rgba16{};
      const auto bright = static_cast<float>(toLab(straight(here)).l / 100);
      chunk->plane[0][i] = here.a == 0 ? uint16_t{0} : to16(shaped(term, bright));
    }
    return chunk;
  });
  return withMaskField(document, id, std::move(out));
}

Result<Document> withMaskFromMaps(const Document& document, uint32_t id, const MaskTerms& terms,
                                  const Progress& progress) {
  if (id != kGuard && !layerOf(document, id)) return Error{fmt::format("there is no layer {}", id)};
  const auto mask = maskOf(*document.maps, terms, progress);
  if (!mask) return mask.error();
  return withMaskField(document, id, **mask);
}

Result<Document> withMaskFromAreas(const Document& document, uint32_t id, uint32_t from,
                                   std::optional<size_t> only) {
  const LayerPointer layer = layerOf(document, from);
  if (id != kGuard && !layerOf(document, id)) return Error{fmt::format("there is no layer {}", id)};
  if (!layer) return Error{fmt::format("there is no layer {}", from)};
  const ZoneSet* areas = layer->source->zones();
  if (!areas || areas->zones.empty()) return Error{fmt::format("'{}' has no areas", layer->name)};
  if (only && *only >= areas->zones.size())
    return Error{fmt::format("'{}' has {} areas, no number {}", layer->name, areas->zones.size(), *only + 1)};
  std::vector<float> values(document.surface->size(), 0);
  for (size_t z = only.value_or(0); z < (only ? *only + 1 : areas->zones.size()); ++z) {
    const ZoneInfluencePointer influence = influenceOf(*document.maps, areas->zones[z], areas->melt);
    for (size_t i = 0; i < influence->samples.size(); ++i) {
      float& v = values[influence->samples[i]];
      v = std::max(v, influence->values[i]);
    }
  }
  return withMaskField(document, id, fieldOf(values.size(), [&](size_t s) { return values[s]; }));
}

}  // namespace juvenor
