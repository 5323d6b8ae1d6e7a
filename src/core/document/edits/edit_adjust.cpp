// Adjustments laid down once into paint, and what a tone is to be matched from.
#include <cmath>

#include "core/document/edits/edits.h"
#include "core/document/whole_stack.h"
#include "core/layers/composite/below_chunks.h"
#include "core/layers/filters/adjust.h"
#include "core/surface/map_field.h"

namespace juvenor {

namespace {

// How far a sample goes: as the guard and the mask let it, 0…65535.
struct Way {
  const ScalarField* guard;
  std::optional<PreparedLayer> through;

  void of(size_t chunk, Channel channel, std::array<uint32_t, kChunkSize>& out) const {
    const float amount = through ? through->layer->opacity * through->layer->strengths[channel] : 1.f;
    ScalarChunk scratch;
    const ScalarChunk* mask = through ? shownChunk(*through, chunk, scratch) : nullptr;
    const ScalarChunk* free = guard ? guard->chunk(chunk).get() : nullptr;
    for (size_t i = 0; i < kChunkSize; ++i) {
      float way = std::max(0.f, amount) * 65535;
      if (mask) way *= from16(mask->plane[0][i]);
      if (free) way *= from16(free->plane[0][i]);
      out[i] = static_cast<uint32_t>(std::lround(way));
    }
  }
};

Result<Way> wayThrough(const Document& document, std::optional<uint32_t> through) {
  Way out{document.guard ? &*document.guard : nullptr, std::nullopt};
  if (!through) return out;
  const LayerPointer layer = layerOf(document, *through);
  if (!layer) return Error{"there is no such layer"};
  auto stack = wholeStackOf(document, {}, *through);
  if (!stack) return stack.error();
  out.through = std::move((*stack)[placeOf(document, *through)]);
  return out;
}

// Between two values, as far as said.
uint16_t moved(uint16_t from, uint32_t to, uint32_t far) {
  return static_cast<uint16_t>(from + (static_cast<int64_t>(to) - from) * far / 65535);
}

ColorField adjustedColors(const ColorField& before, const Adjust& adjust, const Way& way) {
  const ColorMatrix matrix = matrixOf(adjust);
  const std::vector<uint16_t> curve = curveOfValues(curveTable(adjust.curve));
  return mapField(before, [&](size_t c, size_t, size_t) -> ColorField::Pointer {
    const ColorField::Pointer& own = before.chunk(c);
    if (!own) return nullptr;
    ColorChunk plain;
    for (size_t i = 0; i < kChunkSize; ++i) setSample(plain, i, opaque16(straight(sampleOf(*own, i))));
    auto changed = std::make_shared<ColorChunk>();
    adjustChunk(matrix, curve, plain, *changed);
    std::array<uint32_t, kChunkSize> far;
    way.of(c, Channel::Color, far);
    for (size_t i = 0; i < kChunkSize; ++i) {
      const uint32_t alpha = own->plane[3][i];
      for (size_t p = 0; p < 3; ++p) {
        const uint32_t then = (changed->plane[p][i] * alpha + 32767) / 65535;
        changed->plane[p][i] = moved(own->plane[p][i], then, far[i]);
      }
      changed->plane[3][i] = static_cast<uint16_t>(alpha);
    }
    return changed;
  });
}

// Of what is no colour, at as much cover as there is.
template <Channel C>
ChannelField<C> adjustedField(const ChannelField<C>& before, const Adjust& adjust, const Way& way) {
  const std::vector<uint16_t> becomes = adjustedValues(adjust, middleOf(C));
  return mapField(before, [&](size_t c, size_t, size_t) -> typename ChannelField<C>::Pointer {
    const auto& own = before.chunk(c);
    if (!own) return nullptr;
    auto changed = std::make_shared<Chunk<factsOf(C).planes()>>(*own);
    std::array<uint32_t, kChunkSize> far;
    way.of(c, C, far);
    for (size_t i = 0; i < kChunkSize; ++i)
      changed->plane[0][i] = moved(own->plane[0][i], adjustedValue(becomes, *own, i), far[i]);
    return changed;
  });
}

}  // namespace

Result<Document> withAdjusted(const Document& document, uint32_t id, const Adjust& adjust,
                              std::optional<uint32_t> through) {
  const LayerPointer layer = layerOf(document, id);
  if (!layer || !layer->source->painted()) return Error{"only painted layers can take an adjustment"};
  if (layer->locked) return Error{"the layer is locked"};
  const auto way = wayThrough(document, through);
  if (!way) return way.error();
  ChannelFields fields = *layer->source->fields();
  if (adjust.on.has(Channel::Color)) fields.color() = adjustedColors(fields.color(), adjust, *way);
  eachChannel([&](auto c) {
    if constexpr (factsOf(c()).rule != ChannelRule::Blend)
      if (adjust.on.has(c())) fields.get<c()>() = adjustedField<c()>(fields.get<c()>(), adjust, *way);
  });
  return withPainted(document, id, std::move(fields));
}

Result<EncodedColor> meanBelow(const Document& document, uint32_t id, const Progress& progress) {
  const LayerPointer layer = layerOf(document, id);
  if (!layer) return Error{"there is no such layer"};
  const auto stack = wholeStackOf(document, progress, id);
  if (!stack) return stack.error();
  const auto at = std::ranges::find(*stack, layer, &PreparedLayer::layer);
  const auto below = belowOf(*stack, static_cast<size_t>(at - stack->begin()), document.bare);
  const Surface& surface = *document.surface;
  std::array<double, 4> sum{};
  for (size_t c = 0; c < chunkCount(surface.size()); ++c) {
    const ColorField::Pointer colors = below->colors(c);
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
