#include "core/layers/composite/composite.h"

#include <tbb/parallel_for.h>

#include <numeric>

#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/blend_chunk.h"
#include "core/layers/composite/combine_chunk.h"

namespace juvenor {
namespace {

ColorChunk bareChunk(const EncodedColor& bare) {
  ColorChunk out;
  const Rgba16 tone = opaque16(bare);
  out.plane[0].fill(tone.r);
  out.plane[1].fill(tone.g);
  out.plane[2].fill(tone.b);
  out.plane[3].fill(tone.a);
  return out;
}

template <Channel C>
constexpr typename ChannelField<C>::Value bareOf() {
  if constexpr (factsOf(C).rule == ChannelRule::Cover) return {factsOf(C).bare, 65535};
  return nothingOf<C>();
}

bool shows(const PreparedLayer& p) {
  return p.source && contributes(*p.layer);
}

bool shows(const PreparedLayer& p, Channel channel) {
  return shows(p) && p.layer->strengths[channel] != 0 && p.source->channels().has(channel);
}

float amountOf(const PreparedLayer& p, Channel channel) {
  return p.layer->opacity * p.layer->strengths[channel];
}

// The layers under one.
PreparedStack underOf(const PreparedStack& stack, size_t at) {
  return {stack.begin(), stack.begin() + static_cast<std::ptrdiff_t>(at)};
}

// What the layer at a place of the stack holds of a chunk by itself.
ColorField::Pointer ownColors(const PreparedStack& stack, size_t at, const EncodedColor& bare, size_t index,
                              const ColorChunk& below) {
  const PreparedLayer& p = stack[at];
  if (!p.source) return nullptr;
  ScalarChunk scratch;
  const ScalarChunk* shown = p.source->thins() ? shownChunk(p, index, scratch) : nullptr;
  if (!p.source->looksAround()) return p.source->colors({index, shown}, below);
  if (p.below) return p.source->colors({index, shown, p.below.get()}, below);
  const BelowChunks around(linked(underOf(stack, at), bare, 0), bare);
  return p.source->colors({index, shown, &around}, below);
}

void putOn(const PreparedLayer& p, const ColorField::Pointer& source, size_t index, ColorChunk& out) {
  if (!source || !shows(p, Channel::Color)) return;
  ScalarChunk scratch;
  blendChunk(p.layer->blend, out, *source, maskChunk(p, index, scratch), amountOf(p, Channel::Color));
}

void putOn(const PreparedStack& stack, size_t at, const EncodedColor& bare, size_t index, ColorChunk& out) {
  if (shows(stack[at], Channel::Color)) putOn(stack[at], ownColors(stack, at, bare, index, out), index, out);
}

// Whether a property that works everywhere differs.
bool changedThroughout(const PreparedLayer& a, const PreparedLayer& b, Channel channel) {
  return shows(a, channel) != shows(b, channel) || a.layer->opacity != b.layer->opacity ||
         a.layer->strengths[channel] != b.layer->strengths[channel] ||
         (channel == Channel::Color && a.layer->blend != b.layer->blend) ||
         a.layer->mask.has_value() != b.layer->mask.has_value() || a.maps != b.maps;
}

// The same layer differs from itself when it was waiting before.
bool differ(const PreparedLayer& a, const PreparedLayer& b) {
  return a.layer != b.layer || a.source != b.source || a.maps != b.maps;
}

void markContent(const PreparedLayer& p, Channel channel, std::vector<char>& marks) {
  if (shows(p, channel)) p.source->markContent(channel, marks);
}

// What layers that look around make of what changed below them.
void markLooking(const PreparedLayer& p, Channel channel, std::vector<char>& marks) {
  if (channel == Channel::Color && shows(p, channel) && p.source->looksAround())
    markLookers(*p.source, marks);
}

bool markSource(const PreparedLayer& a, const PreparedLayer& b, Channel channel, std::vector<char>& marks) {
  if (a.source == b.source || !shows(b, channel)) return true;
  return &a.layer->source->kind() == &b.layer->source->kind() &&
         b.source->markChanges(channel, *a.source, marks);
}

void markDifference(const PreparedLayer& a, const PreparedLayer& b, Channel channel,
                    std::vector<char>& marks) {
  if (!shows(a, channel) && !shows(b, channel)) return;
  if (changedThroughout(a, b, channel) || !markSource(a, b, channel, marks)) {
    markContent(a, channel, marks);
    markContent(b, channel, marks);
    return;
  }
  if (!a.layer->mask || !b.layer->mask) return;
  for (size_t i = 0; i < marks.size(); ++i)
    if (a.layer->mask->chunk(i) != b.layer->mask->chunk(i)) marks[i] = 1;
}

}  // namespace

template <Channel C>
typename ChannelField<C>::Pointer ownChunk(const PreparedLayer& layer, size_t index) {
  if (!layer.source || !layer.source->channels().has(C)) return nullptr;
  ScalarChunk scratch;
  const ChunkAsk ask(index, layer.source->thins() ? shownChunk(layer, index, scratch) : nullptr);
  if constexpr (factsOf(C).rule == ChannelRule::Cover)
    return layer.source->covers(C, ask);
  else
    return layer.source->heights(C, ask);
}
template CoverField::Pointer ownChunk<Channel::Gloss>(const PreparedLayer&, size_t);
template CoverField::Pointer ownChunk<Channel::Metal>(const PreparedLayer&, size_t);
template ScalarField::Pointer ownChunk<Channel::Relief>(const PreparedLayer&, size_t);

template <Channel C>
typename ChannelField<C>::Pointer compositeChunk(const PreparedStack& stack, const EncodedColor& bare,
                                                 size_t index) {
  if constexpr (factsOf(C).rule == ChannelRule::Blend) {
    auto out = std::make_shared<ColorChunk>(bareChunk(bare));
    for (size_t k = 0; k < stack.size(); ++k) putOn(stack, k, bare, index, *out);
    return out;
  } else {
    std::shared_ptr<Chunk<factsOf(C).planes()>> out;
    for (const PreparedLayer& p : stack) {
      const auto own = shows(p, C) ? ownChunk<C>(p, index) : nullptr;
      if (!own) continue;
      if (!out) out = ChannelField<C>(kChunkSize, bareOf<C>()).writable(0);
      ScalarChunk scratch;
      combineChunk(*out, *own, maskChunk(p, index, scratch), amountOf(p, C));
    }
    return out;
  }
}
template ColorField::Pointer compositeChunk<Channel::Color>(const PreparedStack&, const EncodedColor&,
                                                            size_t);
template CoverField::Pointer compositeChunk<Channel::Gloss>(const PreparedStack&, const EncodedColor&,
                                                            size_t);
template CoverField::Pointer compositeChunk<Channel::Metal>(const PreparedStack&, const EncodedColor&,
                                                            size_t);
template ScalarField::Pointer compositeChunk<Channel::Relief>(const PreparedStack&, const EncodedColor&,
                                                              size_t);

ColorField::Pointer compositeChunk(const PreparedStack& stack, const EncodedColor& bare, size_t index) {
  return compositeChunk<Channel::Color>(stack, bare, index);
}

ColorField::Pointer ownChunk(const PreparedStack& stack, uint32_t layer, const EncodedColor& bare,
                             size_t index) {
  ColorChunk below = bareChunk(bare);
  for (size_t k = 0; k < stack.size(); ++k) {
    if (stack[k].layer->id == layer) return ownColors(stack, k, bare, index, below);
    putOn(stack, k, bare, index, below);
  }
  return nullptr;
}

void eachOwnChunk(const PreparedStack& stack, const EncodedColor& bare, size_t index,
                  const std::function<void(const PreparedLayer&, const ColorField::Pointer&)>& take) {
  ColorChunk below = bareChunk(bare);
  for (size_t k = 0; k < stack.size(); ++k) {
    const ColorField::Pointer own = ownColors(stack, k, bare, index, below);
    take(stack[k], own);
    putOn(stack[k], own, index, below);
  }
}

ChannelSet channelsOf(const PreparedStack& stack) {
  ChannelSet out = Channel::Color;
  for (const PreparedLayer& p : stack)
    if (shows(p)) out |= p.source->channels();
  return out;
}

std::vector<uint32_t> changedChunks(const PreparedStack& before, const PreparedStack& after, size_t samples,
                                    Channel channel) {
  const auto brings = [&](const PreparedLayer& p) { return shows(p, channel); };
  if (std::ranges::none_of(before, brings) && std::ranges::none_of(after, brings)) return {};
  std::vector<char> marks(chunkCount(samples), 0);
  // The same layers in the same order can be compared one by one; otherwise the ends that agree are left out.
  const auto compared = [&](const PreparedLayer& a, const PreparedLayer& b) {
    if (differ(a, b)) markDifference(a, b, channel, marks);
    markLooking(b, channel, marks);
  };
  size_t head = 0;
  while (head < before.size() && head < after.size() && before[head].layer->id == after[head].layer->id) {
    compared(before[head], after[head]);
    ++head;
  }
  size_t tail = 0;
  while (tail + head < before.size() && tail + head < after.size() &&
         before[before.size() - 1 - tail].layer->id == after[after.size() - 1 - tail].layer->id)
    ++tail;
  for (size_t i = head; i + tail < before.size(); ++i) markContent(before[i], channel, marks);
  for (size_t i = head; i + tail < after.size(); ++i) markContent(after[i], channel, marks);
  for (size_t i = tail; i-- > 0;) compared(before[before.size() - 1 - i], after[after.size() - 1 - i]);
  std::vector<uint32_t> chunks;
  for (uint32_t i = 0; i < marks.size(); ++i)
    if (marks[i]) chunks.push_back(i);
  return chunks;
}

ChannelFields bareSkin(size_t samples) {
  ChannelFields out(samples);
  eachChannel([&](auto c) { out.get<c()>() = ChannelField<c()>(samples, bareOf<c()>()); });
  return out;
}

void updateComposite(ColorField& composite, const PreparedStack& stack, const EncodedColor& bare,
                     std::span<const uint32_t> chunks) {
  composite.makeRoom();
  tbb::parallel_for(size_t{0}, chunks.size(),
                    [&](size_t i) { composite.setChunk(chunks[i], compositeChunk(stack, bare, chunks[i])); });
}

void updateComposite(ChannelFields& composite, const PreparedStack& stack, const EncodedColor& bare,
                     std::span<const uint32_t> chunks, ChannelSet channels) {
  eachChannel([&](auto c) {
    if (!channels.has(c())) return;
    if constexpr (c() == Channel::Color) return updateComposite(composite.color(), stack, bare, chunks);
    auto& field = composite.get<c()>();
    field.makeRoom();
    tbb::parallel_for(size_t{0}, chunks.size(), [&](size_t i) {
      field.setChunk(chunks[i], compositeChunk<c()>(stack, bare, chunks[i]));
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
