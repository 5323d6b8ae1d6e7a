// Stacks of layers in every channel, made up by a seed, and edits of them in few words.
#pragma once

#include <random>

#include "core/document/edits/edit_groups.h"
#include "core/layers/composite/composite.h"
#include "core/layers/filters/adjust.h"
#include "core/layers/filters/filter.h"
#include "core/layers/sources/painted.h"
#include "support/made.h"

namespace juvenor::stacks {

using Random = std::mt19937;

// Colours that cover in part, in every channel, in some of the chunks.
inline ChannelFields somePaint(size_t samples, Random& random) {
  ChannelFields out(samples);
  const auto each = [&](auto c) {
    constexpr int kPlanes = factsOf(c()).planes();
    for (size_t i = 0; i < chunkCount(samples); ++i) {
      if (random() % 3 == 0) continue;
      auto chunk = std::make_shared<Chunk<kPlanes>>();
      for (size_t k = 0; k < kChunkSize; ++k) {
        const uint32_t cover = random() % 4 == 0 ? 0 : random() % 4 == 0 ? 65535 : random() % 65536;
        for (int p = 0; p < kPlanes; ++p)
          chunk->plane[p][k] = static_cast<uint16_t>(kPlanes == 1       ? 30'000 + random() % 5'000
                                                     : p + 1 == kPlanes ? cover
                                                                        : random() % (cover + 1));
      }
      out.get<c()>().setChunk(i, std::move(chunk));
    }
  };
  each(ChannelConstant<Channel::Color>());
  if (random() % 2) each(ChannelConstant<Channel::Gloss>());
  if (random() % 4 == 0) each(ChannelConstant<Channel::Metal>());
  if (random() % 4 == 0) each(ChannelConstant<Channel::Glow>());
  if (random() % 2) each(ChannelConstant<Channel::Relief>());
  return out;
}

inline Document painted(const Document& d, std::string name, Random& random,
                        Stratum stratum = Stratum::Pigment) {
  return withSourceLayer(d, std::move(name), stratum, paintedSource(somePaint(d.surface->size(), random)));
}

inline SourcePointer melted(float size) {
  Filter filter;
  filter.guides.size.size = size;
  return filterSource(filter);
}

inline ChannelSet someChannels(Random& random) {
  ChannelSet out = static_cast<Channel>(random() % kChannelCount);
  return random() % 2 ? out | Channel::Color : out;
}

// One of the filters, on some of the channels.
inline SourcePointer someFilter(Random& random) {
  Filter filter;
  filter.guides.size.size = 0.02f;
  filter.way = std::array{Filter::Way::Melt, Filter::Way::Sharpen, Filter::Way::EvenOut,
                          Filter::Way::SwapDetail}[random() % 4];
  filter.on = someChannels(random);
  filter.broad = random() % 2 == 0;
  return filterSource(filter);
}

inline SourcePointer turned(float hue) {
  Adjust adjust;
  adjust.hue = hue;
  adjust.contrast = 0.3f;
  return adjustSource(adjust);
}

inline SourcePointer turned(float hue, Random& random) {
  Adjust adjust = *adjustOf(*turned(hue));
  adjust.on = someChannels(random);
  return adjustSource(adjust);
}

inline Document ground() {
  Document d = test::documentOf(test::plane(110, 1));  // three or four chunks
  return withFillLayer(d, "Ground", Stratum::Flesh, {0.7f, 0.5f, 0.4f});
}

inline ChannelFields skin(const Document& d) {
  return *skinOf(d.layers, *d.maps, d.bare);
}

inline uint32_t named(const Document& d, std::string_view name) {
  for (const LayerPointer& l : d.layers)
    if (l->name == name) return l->id;
  return 0;
}

inline Document changed(const Document& d, uint32_t id, const LayerChange& change) {
  return *withLayerChanged(d, id, change);
}

inline Document blended(const Document& d, uint32_t id, BlendMode mode, float opacity = 1) {
  LayerChange change;
  change.blend = mode;
  change.opacity = opacity;
  return changed(d, id, change);
}

}  // namespace juvenor::stacks
