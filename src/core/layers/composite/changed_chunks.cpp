// Where a channel of the composite may differ between two stacks on one surface, told from what they share:
// sources, masks and maps that are the same need no look, and of those that are not their kinds tell the
// chunks.
#include <algorithm>

#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/composite.h"
#include "core/layers/composite/stack_chunk.h"
#include "core/layers/group.h"

namespace juvenor {
namespace {

// A layer at its place in one of the stacks.
struct Placed {
  const PreparedStack& stack;
  size_t at;

  const PreparedLayer& prepared() const { return stack[at]; }
  const Layer& layer() const { return *stack[at].layer; }
};

class Marking {
 public:
  Marking(size_t samples, Channel channel) : channel_(channel), marks_(chunkCount(samples), 0) {}

  // The same layer in both.
  void compare(const Placed& a, const Placed& b) {
    if (surroundingsDiffer(a, b)) {
      content(a, channel_);
      content(b, channel_);
    } else if (differ(a.prepared(), b.prepared()) || apartDiffers(a, b)) {
      difference(a, b, channel_);
    }
    hangingOn(a, b);
    maskedBy(a, b);
    looking(b.prepared());
  }
  void content(const Placed& p, Channel channel) {
    if (isGroup(p.layer())) {
      for (size_t i = firstOf(p.stack, p.at); i < p.at; ++i)
        if (!isGroup(layerAt(p.stack, i))) content({p.stack, i}, channel);
    } else if (shows(p.prepared(), channel)) {
      p.prepared().source->markContent(channel, marks_);
    }
  }
  std::vector<uint32_t> chunks() const {
    std::vector<uint32_t> out;
    for (uint32_t i = 0; i < marks_.size(); ++i)
      if (marks_[i]) out.push_back(i);
    return out;
  }

 private:
  // Other groups around it, or it hangs on something else.
  static bool surroundingsDiffer(const Placed& a, const Placed& b) {
    if (a.layer().clipped != b.layer().clipped || a.layer().group != b.layer().group) return true;
    const auto idsOf = [](const Placed& p) {
      std::vector<uint32_t> out;
      for (const size_t g : groupsAround(p.stack, p.at)) out.push_back(layerAt(p.stack, g).id);
      const auto base = baseOf(p.stack, p.at);
      out.push_back(base ? layerAt(p.stack, *base).id : 0);
      return out;
    };
    if (a.layer().clipped || a.layer().group != 0) return idsOf(a) != idsOf(b);
    return false;
  }

  // The first that hangs on a group, or the last that goes, has it put together otherwise, though it is the
  // same.
  static bool apartDiffers(const Placed& a, const Placed& b) {
    return isGroup(b.layer()) && putTogetherApart(a.stack, a.at) != putTogetherApart(b.stack, b.at);
  }

  // The same layer differs from itself when it was waiting before.
  static bool differ(const PreparedLayer& a, const PreparedLayer& b) {
    return a.layer != b.layer || a.source != b.source || a.maps != b.maps || a.steps != b.steps;
  }

  // Whether a property that works everywhere differs.
  static bool throughout(const Placed& a, const Placed& b, Channel channel) {
    const Layer &was = a.layer(), &is = b.layer();
    const bool group = isGroup(is);
    if (group &&
        (contributes(was) != contributes(is) || groupOf(*was.source)->passes != groupOf(*is.source)->passes))
      return true;
    if (apartDiffers(a, b)) return true;
    return (!group && shows(a.prepared(), channel) != shows(b.prepared(), channel)) ||
           was.opacity != is.opacity || was.strengths[channel] != is.strengths[channel] ||
           (channel == Channel::Color && was.blend != is.blend) || was.maskOff != is.maskOff ||
           was.maskFrom != is.maskFrom || modeOf(a.prepared(), channel) != modeOf(b.prepared(), channel) ||
           was.mask.has_value() != is.mask.has_value() || a.prepared().maps != b.prepared().maps ||
           a.prepared().steps != b.prepared().steps;
  }

  static bool sourceMarked(const PreparedLayer& a, const PreparedLayer& b, Channel channel,
                           std::vector<char>& marks) {
    if (a.source == b.source || !shows(b, channel)) return true;
    return &a.layer->source->kind() == &b.layer->source->kind() &&
           b.source->markChanges(channel, *a.source, marks);
  }

  void difference(const Placed& a, const Placed& b, Channel channel) {
    const bool group = isGroup(b.layer());
    if (!group && !shows(a.prepared(), channel) && !shows(b.prepared(), channel)) return;
    if (throughout(a, b, channel) || (!group && !sourceMarked(a.prepared(), b.prepared(), channel, marks_))) {
      content(a, channel);
      content(b, channel);
      return;
    }
    const auto &was = a.layer().mask, &is = b.layer().mask;
    if (!was || !is) return;
    std::vector<char> shown(marks_.size(), 0);
    for (size_t i = 0; i < shown.size(); ++i)
      if (was->chunk(i) != is->chunk(i)) shown[i] = 1;
    if (b.prepared().steps) markLookers(*b.prepared().steps, shown);
    for (size_t i = 0; i < shown.size(); ++i) marks_[i] |= shown[i];
  }

  // What hangs on a layer shows where that covers, in whatever channel.
  void hangingOn(const Placed& a, const Placed& b) {
    const auto now = baseOf(b.stack, b.at), then = baseOf(a.stack, a.at);
    if (now && then) coveredBy({a.stack, *then}, {b.stack, *now}, b);
  }

  // So does what takes its mask from a layer.
  void maskedBy(const Placed& a, const Placed& b) {
    if (a.layer().maskFrom == 0 && b.layer().maskFrom == 0) return;
    if (a.layer().maskFrom != b.layer().maskFrom) {
      content(a, channel_);
      return content(b, channel_);
    }
    // (where what it is taken from lies is no matter: above it, or in no stretch of the stack that is
    // compared)
    const auto &then = a.prepared().live, &now = b.prepared().live;
    if (!then || !now) return content(b, channel_);
    coveredBy({then->item(), then->item().size() - 1}, {now->item(), now->item().size() - 1}, b);
    if (b.prepared().steps) markLookers(*b.prepared().steps, marks_);
  }

  // Marks what is other where one is covered by items, before and now.
  void coveredBy(const Placed& then, const Placed& now, const Placed& b) {
    if (!brings(b)) return;
    const size_t count = now.at - firstOf(now.stack, now.at);
    if (then.at - firstOf(then.stack, then.at) != count) return content(b, channel_);
    for (size_t back = 0; back <= count; ++back) {
      const Placed was{then.stack, then.at - back}, is{now.stack, now.at - back};
      if (was.layer().id != is.layer().id || surroundingsDiffer(was, is)) return content(b, channel_);
      // what gives that its mask may be another in turn
      if (is.layer().maskFrom != 0) content(b, channel_);
      if (!differ(was.prepared(), is.prepared())) continue;
      // what hangs there is mixed in as the base says, where the base has no colour of its own too
      if (was.layer().blend != is.layer().blend || was.layer().modes != is.layer().modes)
        content(b, channel_);
      for (size_t c = 0; c < kChannelCount; ++c) difference(was, is, static_cast<Channel>(c));
    }
  }
  bool brings(const Placed& p) const {
    for (size_t i = firstOf(p.stack, p.at); i <= p.at; ++i)
      if (shows(p.stack[i], channel_)) return true;
    return false;
  }

  // What layers that look around make of what changed below them.
  void looking(const PreparedLayer& p) {
    if (shows(p, channel_) && p.source->looksAround()) markLookers(*p.source, marks_);
  }

  Channel channel_;
  std::vector<char> marks_;
};

}  // namespace

std::vector<uint32_t> changedChunks(const PreparedStack& before, const PreparedStack& after, size_t samples,
                                    Channel channel) {
  const auto brings = [&](const PreparedLayer& p) { return shows(p, channel); };
  if (std::ranges::none_of(before, brings) && std::ranges::none_of(after, brings)) return {};
  Marking marks(samples, channel);
  // The same layers in the same order can be compared one by one; otherwise the ends that agree are left out.
  size_t head = 0;
  while (head < before.size() && head < after.size() && before[head].layer->id == after[head].layer->id) {
    marks.compare({before, head}, {after, head});
    ++head;
  }
  size_t tail = 0;
  while (tail + head < before.size() && tail + head < after.size() &&
         before[before.size() - 1 - tail].layer->id == after[after.size() - 1 - tail].layer->id)
    ++tail;
  for (size_t i = head; i + tail < before.size(); ++i) marks.content({before, i}, channel);
  for (size_t i = head; i + tail < after.size(); ++i) marks.content({after, i}, channel);
  for (size_t i = tail; i-- > 0;)
    marks.compare({before, before.size() - 1 - i}, {after, after.size() - 1 - i});
  return marks.chunks();
}

}  // namespace juvenor
