// How the layers of a stack lie in groups and hang on one another. The stack is a list, bottom first: what
// lies in a group lies right under the group's own row, all in one stratum, and names it (Layer::group).
// Clipped layers hang on the first one below them in the same group that is not clipped.
#pragma once

#include <set>

#include "core/layers/prepared_layer.h"

namespace juvenor {

inline const Layer& layerAt(const LayerStack& stack, size_t at) {
  return *stack[at];
}
inline const Layer& layerAt(const PreparedStack& stack, size_t at) {
  return *stack[at].layer;
}

/// A layer, or a group with all that lies in it: the places from `first` to that of its own row.
struct StackItem {
  size_t first = 0, row = 0;
};

/// The item that begins at `begin`, among those from there to `end` that lie in the group `parent` (0: in
/// none). Layers whose group is not in that stretch count as lying in `parent`.
template <class Stack>
StackItem itemAt(const Stack& stack, size_t begin, size_t end, uint32_t parent) {
  size_t row = begin;
  for (uint32_t in = layerAt(stack, row).group; in != parent && in != 0; in = layerAt(stack, row).group) {
    size_t at = row + 1;
    while (at < end && layerAt(stack, at).id != in) ++at;
    if (at >= end) break;
    row = at;
  }
  return {begin, row};
}

/// Past the last of the clipped items that hang on one, which ends at place `row`.
template <class Stack>
size_t hangingEnd(const Stack& stack, size_t row, size_t end, uint32_t parent) {
  size_t out = row + 1;
  while (out < end) {
    const size_t next = itemAt(stack, out, end, parent).row;
    if (!layerAt(stack, next).clipped || layerAt(stack, next).stratum != layerAt(stack, row).stratum) break;
    out = next + 1;
  }
  return out;
}

bool isGroup(const Layer& layer);
// ---- of a stack of layers, prepared or not

/// The first place of what lies in a group; of other layers their own.
template <class Stack>
size_t firstOf(const Stack& stack, size_t place);
/// The row of what a layer hangs on; nothing when it is not clipped, or nothing lies below it in its group
/// and stratum: it shows everywhere then.
template <class Stack>
std::optional<size_t> baseOf(const Stack& stack, size_t place);
/// Past the last of what hangs on the item of a row, wherever in the stack that is.
template <class Stack>
size_t hangingEndOf(const Stack& stack, size_t row);
/// The places of the groups a layer lies in, the innermost first.
template <class Stack>
std::vector<size_t> groupsAround(const Stack& stack, size_t place);
/// Whether a layer is seen: it and all groups around it, and what each of them hangs on, are visible and not
/// quite transparent.
template <class Stack>
bool takesPart(const Stack& stack, size_t place);

/// Whether what lies in a group is put together by itself: it says so, or it hangs on something, or something
/// on it.
bool putTogetherApart(const PreparedStack& stack, size_t group);

/// Whether what a layer (or group) covers follows from another: that lies in it, or gives one that does its
/// mask.
bool coverFollowsFrom(const LayerStack& stack, size_t place, size_t other);

/// That every group a layer names is there, above it, in its stratum, with nothing between that lies in
/// another; that the layers masks are taken from are there and never go round; what
/// files and scripts say is checked by it.
Outcome wellNested(const LayerStack& stack);

}  // namespace juvenor
