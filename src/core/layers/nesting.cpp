#include "core/layers/nesting.h"

#include <fmt/format.h>

#include "core/layers/group.h"

namespace juvenor {
bool isGroup(const Layer& layer) {
  return groupOf(*layer.source) != nullptr;
}

template <class Stack>
size_t firstOf(const Stack& stack, size_t place) {
  if (!isGroup(layerAt(stack, place))) return place;
  std::set<uint32_t> inside{layerAt(stack, place).id};
  size_t out = place;
  while (out > 0 && inside.contains(layerAt(stack, out - 1).group)) inside.insert(layerAt(stack, --out).id);
  return out;
}

template <class Stack>
std::optional<size_t> baseOf(const Stack& stack, size_t place) {
  const Layer& layer = layerAt(stack, place);
  if (!layer.clipped) return std::nullopt;
  size_t at = firstOf(stack, place);
  while (at > 0) {
    const Layer& below = layerAt(stack, at - 1);
    if (below.group != layer.group || below.stratum != layer.stratum) return std::nullopt;
    if (!below.clipped) return at - 1;
    // a clipped one with nothing below carries those above it
    const size_t next = firstOf(stack, at - 1);
    if (next == 0 || layerAt(stack, next - 1).group != layer.group ||
        layerAt(stack, next - 1).stratum != layer.stratum)
      return at - 1;
    at = next;
  }
  return std::nullopt;
}

template <class Stack>
std::vector<size_t> groupsAround(const Stack& stack, size_t place) {
  std::vector<size_t> out;
  for (uint32_t in = layerAt(stack, place).group; in != 0;) {
    size_t at = place + 1;
    while (at < stack.size() && layerAt(stack, at).id != in) ++at;
    if (at == stack.size()) break;
    out.push_back(place = at);
    in = layerAt(stack, at).group;
  }
  return out;
}

template <class Stack>
size_t hangingEndOf(const Stack& stack, size_t row) {
  const auto groups = groupsAround(stack, row);
  return hangingEnd(stack, row, groups.empty() ? stack.size() : groups[0], layerAt(stack, row).group);
}

template <class Stack>
bool takesPart(const Stack& stack, size_t place) {
  const auto visible = [&](size_t at) {
    if (!contributes(layerAt(stack, at))) return false;
    const auto on = baseOf(stack, at);
    return !on || contributes(layerAt(stack, *on));
  };
  return visible(place) && std::ranges::all_of(groupsAround(stack, place), visible);
}

#define JUVENOR_OF_STACK(Stack)                                    \
  template size_t firstOf(const Stack&, size_t);                   \
  template std::optional<size_t> baseOf(const Stack&, size_t);     \
  template size_t hangingEndOf(const Stack&, size_t);              \
  template std::vector<size_t> groupsAround(const Stack&, size_t); \
  template bool takesPart(const Stack&, size_t);
JUVENOR_OF_STACK(LayerStack)
JUVENOR_OF_STACK(PreparedStack)
#undef JUVENOR_OF_STACK

bool putTogetherApart(const PreparedStack& stack, size_t group) {
  return !groupOf(*layerAt(stack, group).source)->passes || baseOf(stack, group) ||
         hangingEndOf(stack, group) > group + 1;
}

namespace {

constexpr int kDeepest = 16;

size_t placeIn(const LayerStack& stack, uint32_t id) {
  return static_cast<size_t>(std::ranges::find(stack, id, [](const LayerPointer& l) { return l->id; }) -
                             stack.begin());
}

bool follows(const LayerStack& stack, size_t place, size_t other, std::set<size_t>& seen) {
  if (!seen.insert(place).second) return false;
  for (size_t i = firstOf(stack, place); i <= place; ++i) {
    if (i == other) return true;
    const size_t from = stack[i]->maskFrom == 0 ? stack.size() : placeIn(stack, stack[i]->maskFrom);
    if (from < stack.size() && follows(stack, from, other, seen)) return true;
  }
  return false;
}

}  // namespace

bool coverFollowsFrom(const LayerStack& stack, size_t place, size_t other) {
  std::set<size_t> seen;
  return follows(stack, place, other, seen);
}

Outcome wellNested(const LayerStack& stack) {
  for (size_t i = 0; i < stack.size(); ++i) {
    const Layer& layer = *stack[i];
    if (layer.folded && !isGroup(layer))
      return Error{fmt::format("layer '{}' is folded and no group", layer.name)};
    if (layer.maskFrom != 0) {
      const size_t from = placeIn(stack, layer.maskFrom);
      if (from == stack.size())
        return Error{fmt::format("layer '{}' takes its mask from one that is not there", layer.name)};
      if (coverFollowsFrom(stack, from, i))
        return Error{fmt::format("layer '{}' would take its mask from itself", layer.name)};
    }
    if (layer.group == 0) continue;
    const auto groups = groupsAround(stack, i);
    if (groups.empty() || stack[groups[0]]->id != layer.group || !isGroup(*stack[groups[0]]))
      return Error{fmt::format("layer '{}' lies in a group that is not above it", layer.name)};
    if (groups.size() > kDeepest)
      return Error{fmt::format("layer '{}' lies in more than {} groups", layer.name, kDeepest)};
    const Layer& group = *stack[groups[0]];
    if (group.stratum != layer.stratum)
      return Error{
          fmt::format("layer '{}' lies in another stratum than its group '{}'", layer.name, group.name)};
    if (firstOf(stack, groups[0]) > i)
      return Error{
          fmt::format("something else lies between layer '{}' and its group '{}'", layer.name, group.name)};
  }
  return Done{};
}

}  // namespace juvenor
