#include "core/layers/composite/below_chunks.h"

#include <algorithm>
#include <set>

#include "core/layers/composite/composite.h"
#include "core/layers/composite/stack_chunk.h"

namespace juvenor {

ColorField::Pointer BelowChunks::at(size_t chunk) const {
  const auto key = static_cast<uint32_t>(chunk);
  {
    const std::lock_guard hold(mutex_);
    if (const auto found = known_.find(key); found != known_.end()) return found->second;
  }
  // two threads may work out the same one; either is right
  const StackChunk<Channel::Color> whole(stack_, bare_, chunk);
  ColorField::Pointer out = from_ ? whole.apart(*from_) : whole.onSkin(stack_.size());
  if (!out) out = std::make_shared<ColorChunk>();
  const std::lock_guard hold(mutex_);
  return known_.emplace(key, std::move(out)).first->second;
}

void BelowChunks::takeOver(const BelowChunks& other, std::span<const uint32_t> but) {
  if (!(other.bare_ == bare_) || other.from_ != from_) return;
  const std::lock_guard hold(other.mutex_);
  for (const auto& [chunk, colors] : other.known_)
    if (!std::ranges::binary_search(but, chunk)) known_.emplace(chunk, colors);
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
  const bool changed = base && stack[*base].source && stack[*base].source->changesBelow();
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

// Gives the layers of an item the masks they take from others, those of the others first. `under` way: files
// never hold a ring, and what is no file's ends all the same.
void giveLive(PreparedStack& stack, size_t row, const EncodedColor& bare, std::set<size_t>& given) {
  for (size_t i = firstOf(stack, row); i <= row; ++i) {
    const uint32_t from = stack[i].layer->maskFrom;
    if (from == 0 || !given.insert(i).second) continue;
    const auto source = std::ranges::find(stack, from, [](const PreparedLayer& p) { return p.layer->id; });
    if (source == stack.end()) continue;
    const auto at = static_cast<size_t>(source - stack.begin());
    giveLive(stack, at, bare, given);
    const auto begin = stack.begin() + static_cast<std::ptrdiff_t>(firstOf(stack, at));
    stack[i].live = std::make_shared<CoverChunks>(PreparedStack(begin, source + 1), bare);
  }
}

}  // namespace

PreparedStack linked(PreparedStack stack, const EncodedColor& bare, size_t samples,
                     const PreparedStack& before, std::span<const uint32_t> touched) {
  std::set<size_t> given;
  for (PreparedLayer& p : stack) p.live = nullptr;
  for (size_t k = 0; k < stack.size(); ++k) giveLive(stack, k, bare, given);
  for (size_t k = 0; k < stack.size(); ++k) {
    PreparedLayer& p = stack[k];
    p.below = nullptr;
    if (!p.source || !p.source->looksAround()) continue;
    auto below = belowOf(stack, k, bare);
    const auto old =
        std::ranges::find(before, p.layer->id, [](const PreparedLayer& o) { return o.layer->id; });
    if (old != before.end() && old->below) {
      const auto changed = changedChunks(old->below->stack(), below->stack(), samples);
      std::vector<uint32_t> all;
      std::ranges::set_union(changed, touched, std::back_inserter(all));
      below->takeOver(*old->below, all);
    }
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
  auto place = std::ranges::find(stack, layer, [](const PreparedLayer& p) { return p.layer->id; });
  std::vector<char> marks;
  for (; place != stack.end(); ++place) {
    if (place->layer->id == layer || !place->source || !place->source->looksAround() ||
        !contributes(*place->layer))
      continue;
    if (marks.empty()) {
      marks.resize(chunkCount(samples));
      for (const uint32_t c : chunks) marks[c] = 1;
    }
    markLookers(*place->source, marks);
  }
  if (marks.empty()) return {chunks.begin(), chunks.end()};
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
