// Adjustments laid down once into paint, and what a tone is to be matched from.
#include <cmath>

#include "core/document/edits/edits.h"
#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/composite.h"
#include "core/layers/filters/adjust.h"
#include "core/surface/map_field.h"

namespace juvenor {

namespace {

// How far a sample goes: as the guard and the mask let it, 0…65535.
struct Way {
  const ScalarField* guard;
  std::optional<PreparedLayer> through;
  float amount = 1;

  void of(size_t chunk, std::array<uint32_t, kChunkSize>& out) const {
    ScalarChunk scratch;
    const ScalarChunk* mask = through ? shownChunk(*through, chunk, scratch) : nullptr;
    const ScalarChunk* free = guard ? guard->chunk(chunk).get() : nullptr;
    for (size_t i = 0; i < kChunkSize; ++i) {
      float way = amount * 65535;
      if (mask) way *= from16(mask->plane[0][i]);
      if (free) way *= from16(free->plane[0][i]);
      out[i] = static_cast<uint32_t>(std::lround(way));
    }
  }
};

Result<Way> wayThrough(const Document& document, std::optional<uint32_t> through) {
  Way out{document.guard ? &*document.guard : nullptr, std::nullopt, 1};
  if (!through) return out;
  const LayerPointer layer = layerOf(document, *through);
  if (!layer) return Error{"there is no such layer"};
  auto stack = prepared({layer}, *document.maps, {}, {}, *through);
  if (!stack) return stack.error();
  if (const Outcome whole = withoutTrouble(*stack); !whole) return whole.error();
  out.through = std::move(stack->front());
  out.amount = layer->opacity * layer->strengths[Channel::Color];
  return out;
}

}  // namespace

Result<Document> withAdjusted(const Document& document, uint32_t id, const Adjust& adjust,
                              std::optional<uint32_t> through) {
  const LayerPointer layer = layerOf(document, id);
  if (!layer || !layer->source->painted()) return Error{"only painted layers can take an adjustment"};
  if (layer->locked) return Error{"the layer is locked"};
  const auto way = wayThrough(document, through);
  if (!way) return way.error();
  const ColorMatrix matrix = matrixOf(adjust);
  const std::vector<float> curve = curveOfValues(curveTable(adjust.curve));
  const ColorField& before = *layer->source->painted();
  const ColorField after = mapField(before, [&](size_t c, size_t, size_t) -> ColorField::Pointer {
    const ColorField::Pointer& own = before.chunk(c);
    if (!own) return nullptr;
    ColorChunk plain;
    for (size_t i = 0; i < kChunkSize; ++i) setSample(plain, i, opaque16(straight(sampleOf(*own, i))));
    auto changed = std::make_shared<ColorChunk>();
    adjustChunk(matrix, curve, plain, *changed);
    std::array<uint32_t, kChunkSize> far;
    way->of(c, far);
    for (size_t i = 0; i < kChunkSize; ++i) {
      const uint32_t alpha = own->plane[3][i];
      for (size_t p = 0; p < 3; ++p) {
        const uint32_t then = (changed->plane[p][i] * alpha + 32767) / 65535;
        const int64_t more = (static_cast<int64_t>(then) - own->plane[p][i]) * far[i] / 65535;
        changed->plane[p][i] = static_cast<uint16_t>(own->plane[p][i] + more);
      }
      changed->plane[3][i] = static_cast<uint16_t>(alpha);
    }
    return changed;
  });
  return withPainted(document, id, after);
}

Result<EncodedColor> meanBelow(const Document& document, uint32_t id, const Progress& progress) {
  const LayerPointer layer = layerOf(document, id);
  if (!layer) return Error{"there is no such layer"};
  auto stack = prepared(document.layers, *document.maps, progress, {}, id);
  if (!stack) return stack.error();
  *stack = linked(std::move(*stack), document.bare, document.surface->size());
  const auto at = std::ranges::find(*stack, layer, &PreparedLayer::layer);
  const auto below = belowOf(*stack, static_cast<size_t>(at - stack->begin()), document.bare);
  const Surface& surface = *document.surface;
  std::array<double, 4> sum{};
  for (size_t c = 0; c < chunkCount(surface.size()); ++c) {
    const ColorField::Pointer colors = below->at(c);
    ScalarChunk scratch;
    const ScalarChunk* mask = shownChunk(*at, c, scratch);
    for (size_t i = 0; i < std::min(kChunkSize, surface.size() - c * kChunkSize); ++i) {
      const double weight = static_cast<double>(surface.areas[c * kChunkSize + i]) *
                            (mask ? static_cast<double>(from16(mask->plane[0][i])) : 1.0);
      for (size_t p = 0; p < 4; ++p) sum[p] += weight * static_cast<double>(from16(colors->plane[p][i]));
    }
  }
  if (!(sum[3] > 0)) return Error{"its mask shows nothing"};
  const auto mean = [&](size_t p) { return static_cast<float>(sum[p] / sum[3]); };
  return EncodedColor{mean(0), mean(1), mean(2)};
}

}  // namespace juvenor
