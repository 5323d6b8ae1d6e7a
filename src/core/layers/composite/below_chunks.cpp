#include "core/layers/composite/below_chunks.h"

#include <algorithm>
#include <set>

#include "core/layers/composite/composite.h"
#include "core/layers/composite/stack_chunk.h"

namespace juvenor {

BelowChunks::BelowChunks(PreparedStack below, const EncodedColor& bare, std::optional<size_t> from)
    : stack_(std::move(below)), bare_(bare), from_(from) {
  if (from_)
    under_ = std::make_shared<BelowChunks>(
        PreparedStack(stack_.begin(), stack_.begin() + static_cast<std::ptrdiff_t>(*from_)), bare_);
}

template <Channel C>
typename ChannelField<C>::Pointer BelowChunks::of(size_t chunk) const {
  const auto key = static_cast<uint32_t>(chunk);
  {
    const std::lock_guard hold(mutex_);
    if (const auto found = known<C>().find(key); found != known<C>().end()) return found->second;
  }
  // two threads may work out the same one; either is right
  const StackChunk<C> whole(stack_, bare_, chunk);
  typename ChannelField<C>::Pointer out = from_ ? whole.apart(*from_) : whole.onSkin(stack_.size());
  if (!out) out = emptyChunk<C>(apart());
  const std::lock_guard hold(mutex_);
  return known<C>().emplace(key, std::move(out)).first->second;
}

CoverField::Pointer BelowChunks::covers(Channel channel, size_t chunk) const {
  CoverField::Pointer out;
  eachChannel([&](auto c) {
    if constexpr (factsOf(c()).rule == ChannelRule::Cover)
      if (channel == c()) out = of<c()>(chunk);
  });
  return out;
}

ScalarField::Pointer BelowChunks::heights(Channel channel, size_t chunk) const {
  ScalarField::Pointer out;
  eachChannel([&](auto c) {
    if constexpr (factsOf(c()).rule == ChannelRule::Add)
      if (channel == c()) out = of<c()>(chunk);
  });
  return out;
}

void BelowChunks::takeOver(const BelowChunks& other, size_t samples, std::span<const uint32_t> touched) {
  if (!(other.bare_ == bare_) || other.from_ != from_) return;
  if (under_ && other.under_) under_->takeOver(*other.under_, samples, touched);
  eachChannel([&](auto c) {
    const auto theirs = [&] {
      const std::lock_guard hold(other.mutex_);
      return other.known<c()>();
    }();
    if (theirs.empty()) return;
    std::vector<uint32_t> but;
    std::ranges::set_union(changedChunks(other.stack_, stack_, samples, c()), touched,
                           std::back_inserter(but));
    for (const auto& [chunk, kept] : theirs)
      if (!std::ranges::binary_search(but, chunk)) known<c()>().emplace(chunk, kept);
  });
}

std::shared_ptr<BelowChunks> belowOf(const PreparedStack& stack, size_t at, const EncodedColor& bare) {
  const auto place = [&](size_t i) { return stack.begin() + static_cast<std::ptrdiff_t>(i); };
  std::optional<size_t> from;
  const auto base = baseOf(stack, at);
  if (base) {
    from = firstOf(stack, *base);
  } else {
    const auto groups = groupsAround(stack, at);
    const auto by = std::ranges::find_if(groups, [&](size_t g) { return putTogetherApart(stack, g); });
    if (by != groups.end()) from = firstOf(stack, *by);
  }
  if (!from) return std::make_shared<BelowChunks>(PreparedStack(stack.begin(), place(at)), bare);
  // what lies below is kept where it tells what the stretch itself comes to
  const auto reads = [](const PreparedLayer& p) { return p.source && p.source->readsBelow(); };
  const bool changed = (base && stack[*base].source && stack[*base].source->changesBelow()) ||
                       (stack[at].source && stack[at].source->looksUnder());
  const size_t cut = changed || std::any_of(place(*from), place(at), reads) ? 0 : *from;
  PreparedStack under(place(cut), place(at));
  // what it hangs on is mixed with what lies below only afterwards
  if (base && stack[*base].layer->blend != BlendMode::Normal) {
    Layer plain = *stack[*base].layer;
    plain.blend = BlendMode::Normal;
    under[*base - cut].layer = std::make_shared<Layer>(std::move(plain));
  }
  return std::make_shared<BelowChunks>(std::move(under), bare, *from - cut);
}

namespace {

// What an item covers, remembered.
class CoverChunks final : public LiveMask {
 public:
  CoverChunks(PreparedStack item, const EncodedColor& bare) : item_(std::move(item)), bare_(bare) {}
  ScalarField::Pointer at(size_t chunk) const override {
    const auto key = static_cast<uint32_t>(chunk);
    {
      const std::lock_guard hold(mutex_);
      if (const auto found = known_.find(key); found != known_.end()) return found->second;
    }
    ScalarField::Pointer out = coverOf(item_, bare_, {0, item_.size() - 1}, chunk);
    const std::lock_guard hold(mutex_);
    return known_.emplace(key, std::move(out)).first->second;
  }
  const PreparedStack& item() const override { return item_; }

 private:
  PreparedStack item_;
  EncodedColor bare_;
  mutable std::mutex mutex_;
  mutable std::unordered_map<uint32_t, ScalarField::Pointer> known_;
};

// The chunks of a mask before its steps that may be others; false when that cannot be told.
bool markPlain(const PreparedLayer& before, const PreparedLayer& after, size_t samples,
               std::vector<char>& marks) {
  const Layer &was = *before.layer, &is = *after.layer;
  if (before.maps != after.maps || was.mask.has_value() != is.mask.has_value() ||
      (before.live == nullptr) != (after.live == nullptr))
    return false;
  for (size_t c = 0; is.mask && c < marks.size(); ++c)
    if (was.mask->chunk(c) != is.mask->chunk(c)) marks[c] = 1;
  for (size_t channel = 0; after.live && channel < kChannelCount; ++channel)
    for (const uint32_t c :
         changedChunks(before.live->item(), after.live->item(), samples, static_cast<Channel>(channel)))
      marks[c] = 1;
  return true;
}

// Gives layers the masks they take from others and what is done to their masks, what others need first.
class MaskLinks {
 public:
  MaskLinks(PreparedStack& stack, const EncodedColor& bare, size_t samples, const PreparedStack& before,
            std::span<const uint32_t> touched)
      : stack_(stack), bare_(bare), samples_(samples), before_(before), touched_(touched) {}

  void give() {
    for (PreparedLayer& p : stack_) p.live = nullptr;
    for (size_t row = 0; row < stack_.size(); ++row) give(row);
  }

 private:
  // (`given_` while under way: files never hold a ring, and what is no file's ends all the same)
  void give(size_t row) {
    for (size_t i = firstOf(stack_, row); i <= row; ++i) {
      if (!given_.insert(i).second) continue;
      giveLive(i);
      giveSteps(stack_[i]);
    }
  }

  void giveLive(size_t i) {
    const uint32_t from = stack_[i].layer->maskFrom;
    const auto source = std::ranges::find(stack_, from, [](const PreparedLayer& p) { return p.layer->id; });
    if (from == 0 || source == stack_.end()) return;
    const auto at = static_cast<size_t>(source - stack_.begin());
    give(at);
    const auto begin = stack_.begin() + static_cast<std::ptrdiff_t>(firstOf(stack_, at));
    stack_[i].live = std::make_shared<CoverChunks>(PreparedStack(begin, source + 1), bare_);
  }

  void giveSteps(PreparedLayer& p) {
    p.stepped = nullptr;
    if (!p.steps) return;
    const auto plain = [layer = p](size_t chunk) -> ScalarField::Pointer {
      auto scratch = std::make_shared<ScalarChunk>();
      const ScalarChunk* shown = plainChunk(layer, chunk, *scratch);
      if (shown && shown != scratch.get()) *scratch = *shown;
      return shown ? scratch : nullptr;
    };
    auto stepped = std::make_shared<SteppedMask>(plain, p.steps);
    const auto old =
        std::ranges::find(before_, p.layer->id, [](const PreparedLayer& o) { return o.layer->id; });
    if (old != before_.end() && old->stepped) {
      std::vector<char> marks(chunkCount(samples_));
      for (const uint32_t c : touched_) marks[c] = 1;
      if (markPlain(*old, p, samples_, marks)) stepped->takeOver(*old->stepped, std::move(marks));
    }
    p.stepped = std::move(stepped);
  }

  PreparedStack& stack_;
  const EncodedColor& bare_;
  size_t samples_;
  const PreparedStack& before_;
  std::span<const uint32_t> touched_;
  std::set<size_t> given_;
};

}  // namespace

PreparedStack linked(PreparedStack stack, const EncodedColor& bare, size_t samples,
                     const PreparedStack& before, std::span<const uint32_t> touched) {
  MaskLinks(stack, bare, samples, before, touched).give();
  for (size_t k = 0; k < stack.size(); ++k) {
    PreparedLayer& p = stack[k];
    p.below = nullptr;
    if (!p.source || !p.source->looksAround()) continue;
    auto below = belowOf(stack, k, bare);
    const auto old =
        std::ranges::find(before, p.layer->id, [](const PreparedLayer& o) { return o.layer->id; });
    if (old != before.end() && old->below) below->takeOver(*old->below, samples, touched);
    p.below = std::move(below);
  }
  return stack;
}

void markLookers(const PreparedSource& source, std::vector<char>& marks) {
  std::vector<char> out = marks;
  for (size_t c = 0; c < marks.size(); ++c)
    if (!out[c]) out[c] = std::ranges::any_of(source.around(c), [&](uint32_t n) { return marks[n] != 0; });
  marks = std::move(out);
}

std::vector<uint32_t> feltChunks(const PreparedStack& stack, uint32_t layer, std::span<const uint32_t> chunks,
                                 size_t samples) {
  std::vector<char> marks(chunkCount(samples));
  for (const uint32_t c : chunks) marks[c] = 1;
  auto place = std::ranges::find(stack, layer, [](const PreparedLayer& p) { return p.layer->id; });
  if (place == stack.end()) return {chunks.begin(), chunks.end()};
  if (place->steps) markLookers(*place->steps, marks);
  // whoever takes a mask from another may lie below it
  for (const PreparedLayer& p : stack)
    if (p.live && contributes(*p.layer)) {
      if (p.steps) markLookers(*p.steps, marks);
      place = stack.begin();
    }
  for (; place != stack.end(); ++place)
    if (place->layer->id != layer && place->source && place->source->looksAround() &&
        contributes(*place->layer))
      markLookers(*place->source, marks);
  std::vector<uint32_t> out;
  for (uint32_t c = 0; c < marks.size(); ++c)
    if (marks[c]) out.push_back(c);
  return out;
}

ChannelSet feltChannels(const PreparedStack& stack, uint32_t layer, ChannelSet worked) {
  const auto place = std::ranges::find(stack, layer, [](const PreparedLayer& p) { return p.layer->id; });
  if (place == stack.end()) return worked;
  const auto at = static_cast<size_t>(place - stack.begin());
  const auto brought = [&](size_t from, size_t end) {
    ChannelSet out;
    for (size_t i = from; i < end; ++i)
      if (stack[i].source) out |= stack[i].source->channels();
    return out;
  };
  ChannelSet out = worked.empty() ? brought(firstOf(stack, at), at + 1) : worked;
  std::vector<size_t> rows = groupsAround(stack, at);
  rows.push_back(at);
  for (const size_t row : rows) out |= brought(row + 1, hangingEndOf(stack, row));
  // whoever takes a mask from it, or from a group around it
  for (size_t i = 0; i < stack.size(); ++i)
    for (const size_t row : rows)
      if (stack[i].layer->maskFrom == stack[row].layer->id)
        out |= brought(firstOf(stack, i), hangingEndOf(stack, i));
  return out;
}

}  // namespace juvenor
