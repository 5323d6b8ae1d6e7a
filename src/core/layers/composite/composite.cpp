#include "core/layers/composite/composite.h"

#include <numeric>

#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/blend_chunk.h"
#include "core/layers/composite/combine_chunk.h"
#include "core/layers/composite/kept_chunks.h"
#include "core/layers/composite/stack_chunk.h"
#include "core/parallel.h"

namespace juvenor {
template <Channel C>
typename ChannelField<C>::Pointer ownChunk(const PreparedLayer& layer, size_t index) {
  if (!layer.source || !layer.source->channels().has(C)) return nullptr;
  ScalarChunk scratch;
  const ChunkAsk ask(index, layer.source->thins() ? shownChunk(layer, index, scratch) : nullptr);
  if constexpr (factsOf(C).rule == ChannelRule::Cover)
    return layer.source->covers(C, ask);
  else if constexpr (factsOf(C).rule == ChannelRule::Add)
    return layer.source->heights(C, ask);
  else
    return layer.source->readsBelow() || layer.source->changesBelow()
               ? nullptr
               : layer.source->colors(ask, *emptyChunk<C>(true));
}
template <Channel C>
typename ChannelField<C>::Pointer compositeChunk(const PreparedStack& stack, const EncodedColor& bare,
                                                 size_t index) {
  return StackChunk<C>(stack, bare, index).onSkin(stack.size());
}
#define JUVENOR_CHUNKS_OF(C)                                                                     \
  template ChannelField<Channel::C>::Pointer ownChunk<Channel::C>(const PreparedLayer&, size_t); \
  template ChannelField<Channel::C>::Pointer compositeChunk<Channel::C>(const PreparedStack&,    \
                                                                        const EncodedColor&, size_t);
JUVENOR_EACH_CHANNEL(JUVENOR_CHUNKS_OF)
#undef JUVENOR_CHUNKS_OF

ColorField::Pointer compositeChunk(const PreparedStack& stack, const EncodedColor& bare, size_t index) {
  return compositeChunk<Channel::Color>(stack, bare, index);
}

ColorField::Pointer ownChunk(const PreparedStack& stack, uint32_t layer, const EncodedColor& bare,
                             size_t index) {
  const auto at = static_cast<size_t>(
      std::ranges::find(stack, layer, [](const PreparedLayer& p) { return p.layer->id; }) - stack.begin());
  if (at == stack.size()) return nullptr;
  const auto groups = groupsAround(stack, at);
  ColorField::Pointer out;
  const OwnWatch watch{layer, [&](const PreparedLayer&, const ColorField::Pointer& own) { out = own; }};
  (void)StackChunk<Channel::Color>(stack, bare, index, &watch)
      .onSkin(groups.empty() ? at + 1 : groups.back() + 1);
  return out;
}

void eachOwnChunk(const PreparedStack& stack, const EncodedColor& bare, size_t index,
                  const std::function<void(const PreparedLayer&, const ColorField::Pointer&)>& take) {
  const OwnWatch watch{0, take};
  (void)StackChunk<Channel::Color>(stack, bare, index, &watch).onSkin(stack.size());
}

ChannelSet channelsOf(const PreparedStack& stack) {
  ChannelSet out = Channel::Color;
  for (size_t i = 0; i < stack.size(); ++i)
    if (shows(stack[i]) && takesPart(stack, i)) out |= stack[i].source->channels();
  return out;
}

ChannelFields bareSkin(size_t samples) {
  ChannelFields out(samples);
  eachChannel([&](auto c) { out.get<c()>() = ChannelField<c()>(samples, bareOf<c()>()); });
  return out;
}

void updateComposite(ColorField& composite, const PreparedStack& stack, const EncodedColor& bare,
                     std::span<const uint32_t> chunks) {
  composite.makeRoom();
  parallelEach(chunks.size(),
               [&](size_t i) { composite.setChunk(chunks[i], compositeChunk(stack, bare, chunks[i])); });
}

void updateComposite(ChannelFields& composite, const PreparedStack& stack, const EncodedColor& bare,
                     std::span<const uint32_t> chunks, ChannelSet channels) {
  eachChannel([&](auto c) {
    if (!channels.has(c())) return;
    if constexpr (c() == Channel::Color) return updateComposite(composite.color(), stack, bare, chunks);
    auto& field = composite.get<c()>();
    field.makeRoom();
    parallelEach(chunks.size(),
                 [&](size_t i) { field.setChunk(chunks[i], compositeChunk<c()>(stack, bare, chunks[i])); });
  });
}

void updateComposite(ChannelFields& composite, const PreparedStack& stack, const EncodedColor& bare,
                     std::span<const uint32_t> chunks, ChannelSet channels, KeptChunks& kept) {
  const auto painted = static_cast<size_t>(
      std::ranges::find(stack, kept.painted(), [](const PreparedLayer& p) { return p.layer->id; }) -
      stack.begin());
  if (painted == stack.size() || !KeptChunks::holdsFor(stack))
    return updateComposite(composite, stack, bare, chunks, channels);
  kept.trim(stack.size() - painted);
  eachChannel([&](auto c) {
    if (!channels.has(c())) return;
    auto& field = composite.get<c()>();
    field.makeRoom();
    parallelEach(chunks.size(), [&](size_t i) {
      const StackChunk<c()> chunk(stack, bare, chunks[i], kept.of<c()>(chunks[i]), painted);
      field.setChunk(chunks[i], chunk.onSkin(stack.size()));
    });
  });
}

namespace {

// One chunk of a channel of what the layer at a place brings.
template <Channel C>
typename ChannelField<C>::Pointer contributionChunk(const PreparedStack& stack, size_t at,
                                                    const EncodedColor& bare, const EncodedColor& ground,
                                                    size_t index) {
  const bool there = at < stack.size();
  if constexpr (C == Channel::Color) {
    auto out = std::make_shared<ColorChunk>(bareChunk(ground));
    if (!there) return out;
    ScalarChunk scratch;
    if (const auto own = ownChunk(stack, stack[at].layer->id, bare, index))
      blendChunk(BlendMode::Normal, *out, *own, maskChunk(stack[at], index, scratch), amountOf(stack[at], C));
    return out;
  } else {
    auto out = ChannelField<C>(kChunkSize, bareOf<C>()).writable(0);
    if (!there) return out;
    if (const auto own = StackChunk<C>(stack, bare, index).alone({firstOf(stack, at), at}))
      combineChunk(*out, *own, nullptr, 1);
    return out;
  }
}

}  // namespace

void updateContribution(ChannelFields& out, const PreparedStack& stack, uint32_t layer,
                        const EncodedColor& bare, const EncodedColor& ground,
                        std::span<const uint32_t> chunks) {
  const auto at = static_cast<size_t>(
      std::ranges::find(stack, layer, [](const PreparedLayer& p) { return p.layer->id; }) - stack.begin());
  eachChannel([&](auto c) {
    auto& field = out.get<c()>();
    field.makeRoom();
    parallelEach(chunks.size(), [&](size_t i) {
      field.setChunk(chunks[i], contributionChunk<c()>(stack, at, bare, ground, chunks[i]));
    });
  });
}

ColorField compositeOf(const PreparedStack& given, size_t samples, const EncodedColor& bare) {
  const PreparedStack stack = linked(given, bare, samples);
  ColorField composite(samples);
  std::vector<uint32_t> all(composite.chunkCount());
  std::iota(all.begin(), all.end(), 0);
  updateComposite(composite, stack, bare, all);
  return composite;
}

ChannelFields skinOf(const PreparedStack& given, size_t samples, const EncodedColor& bare) {
  const PreparedStack stack = linked(given, bare, samples);
  ChannelFields skin = bareSkin(samples);
  std::vector<uint32_t> all(chunkCount(samples));
  std::iota(all.begin(), all.end(), 0);
  updateComposite(skin, stack, bare, all, channelsOf(stack));
  return skin;
}

namespace {

Result<PreparedStack> wholeStack(const LayerStack& layers, SurfaceMaps& maps, const Progress& progress) {
  auto stack = prepared(layers, maps, progress);
  if (!stack) return stack;
  if (const Outcome whole = withoutTrouble(*stack); !whole) return whole.error();
  return stack;
}

}  // namespace

Result<ColorField> compositeOf(const LayerStack& layers, SurfaceMaps& maps, const EncodedColor& bare,
                               const Progress& progress) {
  const auto stack = wholeStack(layers, maps, progress);
  if (!stack) return stack.error();
  return compositeOf(*stack, maps.size(), bare);
}

Result<ChannelFields> skinOf(const LayerStack& layers, SurfaceMaps& maps, const EncodedColor& bare,
                             const Progress& progress) {
  const auto stack = wholeStack(layers, maps, progress);
  if (!stack) return stack.error();
  return skinOf(*stack, maps.size(), bare);
}

}  // namespace juvenor
