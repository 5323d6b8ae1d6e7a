#include "core/layers/composite/stack_chunk.h"

#include <algorithm>

#include "core/layers/composite/atop_chunk.h"
#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/blend_chunk.h"
#include "core/layers/composite/combine_chunk.h"
#include "core/layers/composite/composite.h"
#include "core/layers/composite/tint_chunk.h"
#include "core/layers/group.h"
#include "core/layers/straight_chunk.h"

namespace juvenor {

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
typename StackChunk<C>::Pointer StackChunk<C>::onSkin(size_t end) const {
  Sheet sheet;
  if constexpr (C == Channel::Color) sheet.chunk = std::make_shared<ColorChunk>(bareChunk(bare_));
  put(0, end, 0, sheet);
  return settled(sheet);
}

template <Channel C>
typename StackChunk<C>::Pointer StackChunk<C>::apart(size_t from) const {
  Sheet under;
  if constexpr (C == Channel::Color) under.chunk = std::make_shared<ColorChunk>(bareChunk(bare_));
  put(0, from, 0, under);
  Sheet sheet{nullptr, true, &under};
  put(from, stack_.size(), 0, sheet);
  return settled(sheet);
}

template <Channel C>
typename StackChunk<C>::Pointer StackChunk<C>::alone(const StackItem& item) const {
  Sheet inner{nullptr, true, nullptr};
  Sheet below{nullptr, true, nullptr};
  putBase(item, inner, below);
  return settled(inner);
}

// What a sheet holds, with all that was put on it.
template <Channel C>
const typename StackChunk<C>::Pointer& StackChunk<C>::settled(Sheet& sheet) const {
  if constexpr (C == Channel::Color)
    if (const auto tints = std::exchange(sheet.tints, nullptr); tints && sheet.chunk)
      tintChunk(*tints, *sheet.chunk);
  return sheet.chunk;
}

template <Channel C>
typename StackChunk<C>::ChunkOf& StackChunk<C>::writable(Sheet& sheet) const {
  if (settled(sheet)) return *sheet.chunk;
  sheet.chunk = ChannelField<C>(kChunkSize, sheet.apart ? nothingOf<C>() : bareOf<C>()).writable(0);
  return *sheet.chunk;
}

template <Channel C>
ColorChunk StackChunk<C>::opaqueUnder(Sheet* sheet) const {
  if constexpr (C == Channel::Color) {
    const Pointer own = sheet ? settled(*sheet) : nullptr;
    if (own && !sheet->apart) return *own;
    ColorChunk out = sheet && sheet->outer ? opaqueUnder(sheet->outer) : bareChunk(bare_);
    if (own) blendChunk(BlendMode::Normal, out, *own, nullptr, 1);
    return out;
  }
  return bareChunk(bare_);
}

template <Channel C>
bool StackChunk<C>::wantsWithin(const StackItem& item) const {
  if (!watch_) return false;
  for (size_t i = item.first; i <= item.row; ++i)
    if (wants(*stack_[i].layer)) return true;
  return false;
}

template <Channel C>
void StackChunk<C>::tell(size_t at, const Pointer& own) const {
  if constexpr (C == Channel::Color)
    if (wants(*stack_[at].layer)) watch_->take(stack_[at], own);
}

// Whether a layer's mask hides all of the chunk: nothing of it has to be worked out.
template <Channel C>
bool StackChunk<C>::hidesAll(const PreparedLayer& p) const {
  ScalarChunk scratch;
  const ScalarChunk* mask = shownChunk(p, index_, scratch);
  return mask && std::ranges::all_of(mask->plane[0], [](uint16_t v) { return v == 0; });
}

// What the layer at a place holds of the chunk by itself.
template <Channel C>
typename ChannelField<C>::Pointer StackChunk<C>::ownOf(size_t at, Sheet& below) const {
  const PreparedLayer& p = stack_[at];
  if (!p.source || (!wants(*p.layer) && hidesAll(p))) return nullptr;
  if (p.source->changesBelow()) return changedBelow(at, below);
  if constexpr (C != Channel::Color) {
    return ownChunk<C>(p, index_);
  } else {
    ScalarChunk scratch;
    const ScalarChunk* shown = p.source->thins() ? shownChunk(p, index_, scratch) : nullptr;
    if (p.source->readsBelow() && below.apart) return p.source->colors({index_, shown}, opaqueUnder(&below));
    const ColorChunk& lies = p.source->readsBelow() && settled(below) ? *below.chunk : *emptyChunk<C>(true);
    return p.source->colors({index_, shown}, lies);
  }
}

// The same of layers above the one that is painted on, worked out once where nothing below can change it; and
// of that itself where the strokes are on its mask alone and its forms do not follow that.
template <Channel C>
typename ChannelField<C>::Pointer StackChunk<C>::keptOwnOf(size_t at, Sheet& below) const {
  const PreparedLayer& p = stack_[at];
  if (!kept_ || at < painted_ || !p.source) return ownOf(at, below);
  const bool changes = at == painted_ ? p.layer->source->fields() || p.source->thins()
                                      : p.source->changesBelow() || p.source->readsBelow();
  if (changes) return ownOf(at, below);
  const auto known = kept_->own.find(at);
  if (known != kept_->own.end()) return known->second;
  const auto own = ownOf(at, below);
  // (a mask that hides all may show some after the next dab)
  if (own || at != painted_) kept_->own[at] = own;
  return own;
}

template <Channel C>
typename ChannelField<C>::Pointer StackChunk<C>::changedBelow(size_t at, Sheet& below) const {
  const PreparedSource& source = *stack_[at].source;
  if (!source.channels().has(C)) return nullptr;
  std::shared_ptr<const LayerGround> around;
  if (source.looksAround()) {
    around = stack_[at].below;
    if (!around) around = belowOf(stack_, at, bare_);
  } else if (!settled(below) && below.apart) {
    return nullptr;
  }
  const ChunkAsk ask(index_, nullptr, around.get());
  const ChunkOf& lies = settled(below) ? *below.chunk : *emptyChunk<C>(below.apart);
  if constexpr (factsOf(C).rule == ChannelRule::Blend)
    return source.colors(ask, lies);
  else if constexpr (factsOf(C).rule == ChannelRule::Cover)
    return source.changedCovers(C, ask, lies);
  else
    return source.changedHeights(C, ask, lies);
}

// What is by itself becomes something else, as far as that is said.
template <Channel C>
void StackChunk<C>::changeTo(Sheet& sheet, const ChunkOf& own, const ScalarChunk* mask, float amount) const {
  auto next = std::make_shared<ChunkOf>(own);
  mixChunk(*next, writable(sheet), mask, amount);
  sheet.chunk = std::move(next);
}

// One film of skin's own more; those of another kind are laid first.
template <Channel C>
void StackChunk<C>::addTints(Sheet& sheet, const ChunkOf& own, const ScalarChunk* mask, float amount,
                             BlendMode mode) const {
  if constexpr (C == Channel::Color) {
    if (sheet.tints && sheet.tints->mode != mode) settled(sheet);
    if (!sheet.tints) sheet.tints = std::make_shared<TintAmounts>(TintAmounts{mode});
    addTint(*sheet.tints, own, mask, amount);
  }
}

template <Channel C>
void StackChunk<C>::combine(Sheet& sheet, const ChunkOf& own, const PreparedLayer& p, BlendMode mode) const {
  ScalarChunk scratch;
  const ScalarChunk* mask = maskChunk(p, index_, scratch);
  const bool changes = p.source->changesBelow();
  if constexpr (C == Channel::Color) {
    if (isSkinTint(mode) && !changes)
      addTints(sheet, own, mask, amountOf(p, C), mode);
    else if (!sheet.apart || !changes)
      blendChunk(mode, writable(sheet), own, mask, amountOf(p, C));
    else if (mode != BlendMode::Normal)
      atopChunk(mode, writable(sheet), straightened(own), mask, amountOf(p, C), nullptr);
    else
      changeTo(sheet, own, mask, amountOf(p, C));
  } else if (changes && modeOf(p, C) == ChannelMode::Usual) {
    changeTo(sheet, own, mask, amountOf(p, C));
  } else {
    combineChunk(writable(sheet), own, mask, amountOf(p, C), modeOf(p, C));
  }
}

// What hangs together from a place on; gives the place after it.
template <Channel C>
size_t StackChunk<C>::putStretch(size_t begin, size_t end, uint32_t parent, Sheet& sheet) const {
  const StackItem item = itemAt(stack_, begin, end, parent);
  const size_t hang = hangingEnd(stack_, item.row, end, parent);
  if (hang > item.row + 1)
    putHanging(item, hang, parent, sheet);
  else
    putItem(item, sheet);
  return hang;
}

template <Channel C>
typename StackChunk<C>::Sheet StackChunk<C>::copied(const Sheet& sheet) const {
  Sheet out = sheet;
  if (out.chunk) out.chunk = std::make_shared<ChunkOf>(*out.chunk);
  if (out.tints) out.tints = std::make_shared<TintAmounts>(*out.tints);
  return out;
}

// All below what hangs together with the layer that is painted on, as it is kept; gives the place after it.
template <Channel C>
size_t StackChunk<C>::putBelow(size_t begin, size_t end, uint32_t parent, Sheet& sheet) const {
  if (!kept_ || painted_ < begin || painted_ >= end) return begin;
  size_t from = begin;
  while (true) {
    const size_t next = hangingEnd(stack_, itemAt(stack_, from, end, parent).row, end, parent);
    if (painted_ < next) break;
    from = next;
  }
  const auto known = kept_->below.find(parent);
  if (known == kept_->below.end()) {
    for (size_t i = begin; i < from;) i = putStretch(i, end, parent, sheet);
    const Sheet same = copied(sheet);
    kept_->below[parent] = {same.chunk, same.tints};
  } else {
    const auto& [chunk, tints] = known->second;
    if (chunk) sheet.chunk = std::make_shared<ChunkOf>(*chunk);
    if (tints) sheet.tints = std::make_shared<TintAmounts>(*tints);
  }
  return from;
}

template <Channel C>
void StackChunk<C>::put(size_t begin, size_t end, uint32_t parent, Sheet& sheet) const {
  for (size_t i = putBelow(begin, end, parent, sheet); i < end;) i = putStretch(i, end, parent, sheet);
}

template <Channel C>
void StackChunk<C>::putItem(const StackItem& item, Sheet& sheet) const {
  const PreparedLayer& p = stack_[item.row];
  if (isGroup(*p.layer)) return putGroup(item, sheet);
  if (!shows(p, C) && !wants(*p.layer)) return;
  const auto own = keptOwnOf(item.row, sheet);
  if constexpr (C == Channel::Color)
    if (wants(*p.layer)) watch_->take(p, own);
  if (own && shows(p, C)) combine(sheet, *own, p, p.layer->blend);
}

// What lies in a group, by itself.
template <Channel C>
typename StackChunk<C>::Pointer StackChunk<C>::within(const StackItem& group, Sheet& outer) const {
  Sheet inner{nullptr, true, &outer};
  put(group.first, group.row, stack_[group.row].layer->id, inner);
  return settled(inner);
}

template <Channel C>
void StackChunk<C>::putGroup(const StackItem& item, Sheet& sheet) const {
  const PreparedLayer& p = stack_[item.row];
  const bool shown = contributes(*p.layer) && p.layer->strengths[C] != 0;
  if (!shown && !wantsWithin(item)) return;
  if (groupOf(*p.layer->source)->passes) return passThrough(item, sheet);
  const Pointer own = within(item, sheet);
  tell(item.row, own);
  if (own && shown) combine(sheet, *own, p, p.layer->blend);
}

template <Channel C>
void StackChunk<C>::passThrough(const StackItem& item, Sheet& sheet) const {
  const PreparedLayer& p = stack_[item.row];
  const bool shown = contributes(*p.layer) && p.layer->strengths[C] != 0;
  if (wants(*p.layer)) tell(item.row, StackChunk(stack_, bare_, index_).within(item, sheet));
  ScalarChunk scratch;
  const ScalarChunk* mask = maskChunk(p, index_, scratch);
  const float amount = amountOf(p, C);
  if (shown && !mask && amount == 1) return put(item.first, item.row, p.layer->id, sheet);
  settled(sheet);
  Sheet inside = copied(sheet);
  put(item.first, item.row, p.layer->id, inside);
  if (!shown || !settled(inside)) return;
  mixChunk(*inside.chunk, writable(sheet), mask, amount);
  sheet.chunk = std::move(inside.chunk);
}

// What an item is by itself, with its mask and amounts and nothing mixed in.
template <Channel C>
void StackChunk<C>::putBase(const StackItem& base, Sheet& inner, Sheet& below) const {
  const PreparedLayer& p = stack_[base.row];
  typename ChannelField<C>::Pointer own;
  bool shown = shows(p, C);
  if (isGroup(*p.layer)) {
    own = within(base, below);
    shown = contributes(*p.layer) && p.layer->strengths[C] != 0;
  } else if (shown || wants(*p.layer)) {
    own = ownOf(base.row, below);
  }
  if constexpr (C == Channel::Color)
    if (wants(*p.layer)) watch_->take(p, own);
  if (!own || !shown) return;
  ScalarChunk scratch;
  const ScalarChunk* mask = maskChunk(p, index_, scratch);
  if constexpr (C == Channel::Color)
    blendChunk(BlendMode::Normal, writable(inner), *own, mask, amountOf(p, C));
  else
    combineChunk(writable(inner), *own, mask, amountOf(p, C));
}

// What a layer changes of what it hangs on: that covers as much as it did. Heights, which do not say so,
// change as far as `cover` says.
template <Channel C>
void StackChunk<C>::changeHanging(const PreparedLayer& p, const ChunkOf& own, const ScalarChunk* mask,
                                  Sheet& inner, const ScalarChunk* cover) const {
  const float amount = amountOf(p, C);
  if constexpr (factsOf(C).rule == ChannelRule::Blend) {
    atopChunk(p.layer->blend, *inner.chunk, straightened(own), mask, amount, nullptr);
  } else if constexpr (factsOf(C).rule == ChannelRule::Cover) {
    atopChunk(*inner.chunk, straightened(own), mask, amount, nullptr);
  } else if (modeOf(p, C) != ChannelMode::Usual) {
    atopChunk(writable(inner), own, mask, amount, cover, modeOf(p, C));
  } else {
    ScalarChunk both;
    changeTo(inner, own, cover ? &multiplied(*cover, mask, both) : mask, amount);
  }
}

// One item on what it hangs on; whether it shows anything there. `cover`: what of that is covered, asked for
// once.
template <Channel C>
bool StackChunk<C>::putOn(const StackItem& base, const StackItem& item, Sheet& inner, Cover& cover) const {
  const PreparedLayer& p = stack_[item.row];
  const bool group = isGroup(*p.layer);
  const bool shown = group ? contributes(*p.layer) && p.layer->strengths[C] != 0 : shows(p, C);
  if (!shown && !wantsWithin(item)) return false;
  const typename ChannelField<C>::Pointer own = group ? within(item, inner) : keptOwnOf(item.row, inner);
  if constexpr (C == Channel::Color)
    if (wants(*p.layer)) watch_->take(p, own);
  if (!own || !shown || !contributes(*stack_[base.row].layer)) return false;
  ScalarChunk scratch;
  const ScalarChunk* mask = maskChunk(p, index_, scratch);
  const bool changes = !group && p.source->changesBelow();
  if (changes && factsOf(C).rule != ChannelRule::Add) {
    if (!settled(inner)) return false;
    changeHanging(p, *own, mask, inner, nullptr);
    return true;
  }
  if (!cover.asked) cover = {true, coverOf(stack_, bare_, base, index_)};
  if (!cover.chunk) return false;
  if (changes) {
    changeHanging(p, *own, mask, inner, cover.chunk.get());
    return true;
  }
  if constexpr (C == Channel::Color)
    atopChunk(p.layer->blend, writable(inner), *own, mask, amountOf(p, C), cover.chunk.get());
  else if constexpr (factsOf(C).rule == ChannelRule::Add)
    atopChunk(writable(inner), *own, mask, amountOf(p, C), cover.chunk.get(), modeOf(p, C));
  else if (modeOf(p, C) == ChannelMode::Multiply)
    combineChunk(writable(inner), *own, mask, amountOf(p, C), ChannelMode::Multiply);
  else
    atopChunk(writable(inner), *own, mask, amountOf(p, C), cover.chunk.get());
  return true;
}

template <Channel C>
void StackChunk<C>::putHanging(const StackItem& base, size_t end, uint32_t parent, Sheet& sheet) const {
  const PreparedLayer& on = stack_[base.row];
  const bool shown = contributes(*on.layer);
  if (!shown && !wantsWithin({base.first, end - 1})) return;
  Sheet inner{nullptr, true, &sheet};
  putBase(base, inner, sheet);
  Cover cover;
  bool any = false;
  for (size_t i = base.row + 1; i < end;) {
    const StackItem item = itemAt(stack_, i, end, parent);
    any |= putOn(base, item, inner, cover);
    i = item.row + 1;
  }
  // where nothing hangs it is as if nothing did, to the last bit; but a group that passes through is by
  // itself everywhere as soon as anything hangs on it
  const Group* group = groupOf(*on.layer->source);
  if (!any && !(group && group->passes)) return StackChunk(stack_, bare_, index_).putItem(base, sheet);
  if (!settled(inner) || !shown) return;
  if constexpr (C == Channel::Color)
    blendChunk(on.layer->blend, writable(sheet), *inner.chunk, nullptr, 1);
  else
    combineChunk(writable(sheet), *inner.chunk, nullptr, 1, modeOf(on, C));
}

#define JUVENOR_STACK_OF(C) template class StackChunk<Channel::C>;
JUVENOR_EACH_CHANNEL(JUVENOR_STACK_OF)
#undef JUVENOR_STACK_OF

namespace {

// The channels anything of an item shows.
ChannelSet channelsIn(const PreparedStack& stack, const StackItem& item) {
  ChannelSet out;
  for (size_t i = item.first; i <= item.row; ++i)
    if (shows(stack[i])) out |= stack[i].source->channels();
  return out;
}

// What changes everything below covers all that its mask shows.
std::shared_ptr<ScalarChunk> wholeCover(const PreparedLayer& p, size_t index) {
  ScalarChunk scratch;
  const ScalarChunk* mask = maskChunk(p, index, scratch);
  float amount = 0;
  for (size_t c = 0; c < kChannelCount; ++c)
    if (const auto channel = static_cast<Channel>(c); p.source->channels().has(channel))
      amount = std::max(amount, std::abs(amountOf(p, channel)));
  auto out = std::make_shared<ScalarChunk>();
  for (size_t i = 0; i < kChunkSize; ++i)
    out->plane[0][i] = to16(amount * (mask ? from16(mask->plane[0][i]) : 1.f));
  return out;
}

}  // namespace

std::shared_ptr<ScalarChunk> coverOf(const PreparedStack& stack, const EncodedColor& bare,
                                     const StackItem& item, size_t index) {
  const PreparedLayer& row = stack[item.row];
  if (!contributes(*row.layer)) return nullptr;
  if (row.source && row.source->changesBelow()) return wholeCover(row, index);
  std::shared_ptr<ScalarChunk> out;
  const auto take = [&](const auto& chunk, size_t plane) {
    if (!chunk) return;
    if (!out) out = std::make_shared<ScalarChunk>();
    for (size_t i = 0; i < kChunkSize; ++i)
      out->plane[0][i] = std::max(out->plane[0][i], chunk->plane[plane][i]);
  };
  const ChannelSet brings = channelsIn(stack, item);
  eachChannel([&](auto c) {
    constexpr auto kRule = factsOf(c()).rule;
    if constexpr (kRule != ChannelRule::Add)
      if (brings.has(c()))
        take(StackChunk<c()>(stack, bare, index).alone(item), kRule == ChannelRule::Blend ? 3 : 1);
  });
  if (!(brings.without(Channel::Relief)).empty()) return out;
  if (const auto heights = StackChunk<Channel::Relief>(stack, bare, index).alone(item)) {
    out = std::make_shared<ScalarChunk>();
    for (size_t i = 0; i < kChunkSize; ++i) out->plane[0][i] = heights->plane[0][i] != kLevel ? 65535 : 0;
  }
  return out;
}

}  // namespace juvenor
