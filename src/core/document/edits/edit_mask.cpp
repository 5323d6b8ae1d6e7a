#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/color/lab.h"
#include "core/document/edits/edits.h"
#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/composite.h"
#include "core/surface/distance/distance.h"
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

// The samples right beyond the rim of a mask, where it passes one half, each with its way to the rim: those
// that hide next to ones that show, or the other way round.
std::vector<DistanceSeed> beyondTheRim(const Surface& surface, const std::vector<float>& values,
                                       bool hidden) {
  std::vector<DistanceSeed> out;
  for (uint32_t s = 0; s < values.size(); ++s) {
    if ((values[s] < 0.5f) != hidden) continue;
    float nearest = std::numeric_limits<float>::infinity();
    for (const uint32_t n : surface.neighborsOf(s)) {
      if ((values[n] < 0.5f) == hidden) continue;
      const float part = (0.5f - values[s]) / (values[n] - values[s]);
      nearest = std::min(nearest, part * (surface.positions[n] - surface.positions[s]).norm());
    }
    if (std::isfinite(nearest)) out.push_back({s, nearest});
  }
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
  // what shows grows into what hides, or the other way round
  const bool grows = way > 0;
  const float reach = std::abs(way), edge = document.surface->spacing;
  std::vector<float> values(mask->size());
  for (size_t s = 0; s < values.size(); ++s) values[s] = from16(mask->at(s)[0]);
  const Distances near =
      distancesFrom(*document.surface, beyondTheRim(*document.surface, values, grows), reach + edge);
  for (size_t k = 0; k < near.samples.size(); ++k) {
    const float covered = std::clamp((reach - near.values[k]) / edge + 0.5f, 0.f, 1.f);
    float& v = values[near.samples[k]];
    v = grows ? std::max(v, covered) : std::min(v, 1 - covered);
  }
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
  auto stack = prepared(document.layers, *document.maps, {}, {}, id);
  if (!stack) return stack.error();
  if (const Outcome whole = withoutTrouble(*stack); !whole) return whole.error();
  *stack = linked(std::move(*stack), document.bare, document.surface->size());
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

}  // namespace juvenor
