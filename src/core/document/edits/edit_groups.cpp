#include "core/document/edits/edit_groups.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/layers/group.h"
#include "core/layers/nesting.h"

namespace juvenor {
namespace {

Error noSuchLayer(uint32_t id) {
  return {fmt::format("there is no layer {}", id)};
}

// The rows of the layers that are meant, bottom first; those in a group that is meant too go with it.
Result<std::vector<size_t>> rowsOf(const Document& document, LayerIds ids) {
  if (ids.empty()) return Error{"no layer is chosen"};
  std::set<size_t> rows;
  for (const uint32_t id : ids) {
    const size_t at = placeOf(document, id);
    if (at == document.layers.size()) return noSuchLayer(id);
    rows.insert(at);
  }
  std::vector<size_t> out;
  for (const size_t row : rows)
    if (std::ranges::none_of(groupsAround(document.layers, row), [&](size_t g) { return rows.contains(g); }))
      out.push_back(row);
  return out;
}

// Takes items out of a stack, each with all that lies in it, in their order.
LayerStack takenOut(LayerStack& layers, std::span<const size_t> rows) {
  std::set<size_t> places;
  for (const size_t row : rows)
    for (size_t i = firstOf(layers, row); i <= row; ++i) places.insert(i);
  LayerStack taken, rest;
  for (size_t i = 0; i < layers.size(); ++i) (places.contains(i) ? taken : rest).push_back(layers[i]);
  layers = std::move(rest);
  return taken;
}

template <class Change>
LayerPointer changed(const LayerPointer& layer, Change change) {
  Layer out = *layer;
  change(out);
  return std::make_shared<Layer>(std::move(out));
}

void insertAt(LayerStack& layers, size_t at, const LayerStack& what) {
  layers.insert(layers.begin() + static_cast<std::ptrdiff_t>(at), what.begin(), what.end());
}

// Where a place lies in the list.
size_t indexOf(const LayerStack& layers, const StackPlace& place) {
  size_t begin = 0, end = 0;
  if (place.group != 0) {
    const auto group = std::ranges::find(layers, place.group, [](const LayerPointer& l) { return l->id; });
    end = static_cast<size_t>(group - layers.begin());
    begin = firstOf(layers, end);
  } else {
    while (begin < layers.size() && layers[begin]->stratum < place.stratum) ++begin;
    end = begin;
    while (end < layers.size() && layers[end]->stratum == place.stratum) ++end;
  }
  for (size_t k = 0; k < place.above && begin < end; ++k)
    begin = itemAt(layers, begin, end, place.group).row + 1;
  return begin;
}

}  // namespace

Result<Document> withGroup(const Document& document, LayerIds ids, std::string name) {
  auto rows = rowsOf(document, ids);
  if (!rows) return rows.error();
  const Layer& top = *document.layers[rows->back()];
  for (const size_t row : *rows)
    if (document.layers[row]->stratum != top.stratum)
      return Error{
          fmt::format("“{}” and “{}” lie in two strata, and a group lies in one. Move one of them first.",
                      document.layers[row]->name, top.name)};
  Document out = document;
  Layer group;
  group.id = out.nextLayer++;
  group.name = std::move(name);
  group.stratum = top.stratum;
  group.group = top.group;
  group.source = groupSource({});
  const size_t past = rows->back() + 1;
  std::set<uint32_t> roots;
  for (const size_t row : *rows) roots.insert(document.layers[row]->id);
  LayerStack taken = takenOut(out.layers, *rows);
  for (LayerPointer& layer : taken)
    if (roots.contains(layer->id)) layer = changed(layer, [&](Layer& l) { l.group = group.id; });
  out.activeLayer = group.id;
  taken.push_back(std::make_shared<Layer>(std::move(group)));
  insertAt(out.layers, past - (taken.size() - 1), taken);
  if (const Outcome nested = wellNested(out.layers); !nested) return nested.error();
  return out;
}

Result<Document> withoutGroup(const Document& document, uint32_t id) {
  const size_t at = placeOf(document, id);
  if (at == document.layers.size()) return noSuchLayer(id);
  const Layer& group = *document.layers[at];
  if (!isGroup(group)) return Error{fmt::format("“{}” is no group", group.name)};
  if (group.locked) return Error{fmt::format("“{}” is locked. Unlock it first.", group.name)};
  const size_t first = firstOf(document.layers, at);
  const bool plain = !group.mask && group.terms.empty() && group.opacity == 1 && group.visible &&
                     group.strengths == ChannelStrengths::all(1) && !group.clipped &&
                     groupOf(*group.source)->passes;
  if (!plain && at > first)
    return Error{fmt::format(
        "“{}” has a mask, an opacity or a mode of its own, which would be lost and change the look. "
        "Merge the group instead, or let it pass through at 100 % first.",
        group.name)};
  Document out = document;
  for (size_t i = first; i < at; ++i)
    if (out.layers[i]->group == id)
      out.layers[i] = changed(out.layers[i], [&](Layer& l) { l.group = group.group; });
  out.layers.erase(out.layers.begin() + static_cast<std::ptrdiff_t>(at));
  if (const Outcome nested = wellNested(out.layers); !nested)
    return Error{fmt::format("a layer takes its mask from “{}”. Let it show everywhere first.", group.name)};
  if (out.activeLayer == id) out.activeLayer = out.layers.empty() ? 0 : out.layers[at > 0 ? at - 1 : 0]->id;
  return out;
}

Result<Document> withClipped(const Document& document, uint32_t id, bool clipped) {
  const size_t at = placeOf(document, id);
  if (at == document.layers.size()) return noSuchLayer(id);
  Document out = document;
  out.layers[at] = changed(out.layers[at], [&](Layer& l) { l.clipped = clipped; });
  if (clipped && !baseOf(out.layers, at))
    return Error{fmt::format("nothing lies below “{}” in its stratum or group that it could hang on",
                             document.layers[at]->name)};
  return out;
}

Result<CopiedMask> copiedMask(const Document& document, uint32_t id) {
  const LayerPointer layer = layerOf(document, id);
  if (!layer) return noSuchLayer(id);
  if (!layer->mask && layer->terms.empty()) return Error{fmt::format("“{}” has no mask", layer->name)};
  return CopiedMask{document.surface, layer->mask, layer->terms, layer->steps};
}

Result<Document> withCopiedMask(const Document& document, const CopiedMask& mask, LayerIds ids) {
  if (mask.surface != document.surface)
    return Error{"the copied mask is of other points: points were added, or it is another work"};
  Document out = document;
  for (const uint32_t id : ids) {
    const size_t at = placeOf(out, id);
    if (at == out.layers.size()) return noSuchLayer(id);
    out.layers[at] = changed(out.layers[at], [&](Layer& l) {
      l.mask = mask.painted;
      l.terms = mask.terms;
      l.steps = mask.steps;
      l.maskOff = false;
    });
  }
  return out;
}

Result<Document> withMovedMask(const Document& document, uint32_t from, uint32_t to) {
  const auto mask = copiedMask(document, from);
  if (!mask) return mask.error();
  if (from == to) return document;
  const std::array ids{to};
  auto out = withCopiedMask(document, *mask, ids);
  if (!out) return out;
  LayerPointer& bare = out->layers[placeOf(*out, from)];
  bare = changed(bare, [](Layer& l) {
    l.mask.reset();
    l.terms.clear();
    l.steps.clear();
    l.maskOff = false;
  });
  return out;
}

Result<Document> withMaskFrom(const Document& document, uint32_t id, uint32_t from) {
  const size_t at = placeOf(document, id);
  if (at == document.layers.size()) return noSuchLayer(id);
  if (from != 0) {
    const size_t source = placeOf(document, from);
    if (source == document.layers.size()) return noSuchLayer(from);
    if (coverFollowsFrom(document.layers, source, at))
      return Error{fmt::format("what “{}” covers follows from “{}” already", document.layers[source]->name,
                               document.layers[at]->name)};
  }
  Document out = document;
  out.layers[at] = changed(out.layers[at], [&](Layer& l) { l.maskFrom = from; });
  return out;
}

Result<Document> withFolded(const Document& document, uint32_t id, bool folded) {
  const size_t at = placeOf(document, id);
  if (at == document.layers.size()) return noSuchLayer(id);
  if (!isGroup(*document.layers[at]))
    return Error{fmt::format("“{}” is no group", document.layers[at]->name)};
  Document out = document;
  out.layers[at] = changed(out.layers[at], [&](Layer& l) { l.folded = folded; });
  return out;
}

Result<Document> withLayersMoved(const Document& document, LayerIds ids, const StackPlace& place) {
  const auto rows = rowsOf(document, ids);
  if (!rows) return rows.error();
  Stratum stratum = place.stratum;
  if (place.group != 0) {
    const size_t into = placeOf(document, place.group);
    if (into == document.layers.size()) return noSuchLayer(place.group);
    const Layer& group = *document.layers[into];
    if (!isGroup(group)) return Error{fmt::format("“{}” is no group", group.name)};
    stratum = group.stratum;
    for (const size_t row : *rows)
      if (into >= firstOf(document.layers, row) && into <= row)
        return Error{fmt::format("“{}” cannot lie in itself", document.layers[row]->name)};
  }
  std::set<uint32_t> roots;
  for (const size_t row : *rows) roots.insert(document.layers[row]->id);
  Document out = document;
  LayerStack taken = takenOut(out.layers, *rows);
  for (LayerPointer& layer : taken)
    layer = changed(layer, [&](Layer& l) {
      l.stratum = stratum;
      if (roots.contains(l.id)) l.group = place.group;
    });
  insertAt(out.layers, indexOf(out.layers, place), taken);
  if (const Outcome nested = wellNested(out.layers); !nested) return nested.error();
  return out;
}

Outcome unlocked(const Document& document, size_t place, std::string_view act) {
  for (size_t i = firstOf(document.layers, place); i <= place; ++i)
    if (document.layers[i]->locked)
      return Error{fmt::format("“{}” is locked. Unlock it to {} it.", document.layers[i]->name, act)};
  for (const size_t g : groupsAround(document.layers, place))
    if (document.layers[g]->locked)
      return Error{fmt::format("“{}” lies in “{}”, which is locked. Unlock that to {} it.",
                               document.layers[place]->name, document.layers[g]->name, act)};
  return Done{};
}

Result<Document> withoutLayers(const Document& document, LayerIds ids) {
  const auto rows = rowsOf(document, ids);
  if (!rows) return rows.error();
  for (const size_t row : *rows)
    if (const Outcome free = unlocked(document, row, "delete"); !free) return free.error();
  Document out = document;
  const size_t lowest = firstOf(document.layers, rows->front());
  const LayerStack taken = takenOut(out.layers, *rows);
  // whoever took its mask from what is gone shows everywhere
  for (LayerPointer& layer : out.layers)
    if (std::ranges::any_of(taken, [&](const LayerPointer& t) { return t->id == layer->maskFrom; }))
      layer = changed(layer, [](Layer& l) { l.maskFrom = 0; });
  if (!layerOf(out, out.activeLayer))
    out.activeLayer = out.layers.empty() ? 0 : out.layers[lowest > 0 ? lowest - 1 : 0]->id;
  return out;
}

Result<Document> withDuplicates(const Document& document, LayerIds ids) {
  const auto rows = rowsOf(document, ids);
  if (!rows) return rows.error();
  Document out = document;
  // from the top, so that the places below stay
  for (auto row = rows->rbegin(); row != rows->rend(); ++row) {
    const size_t first = firstOf(document.layers, *row);
    std::map<uint32_t, uint32_t> numbers;
    for (size_t i = first; i <= *row; ++i) numbers[document.layers[i]->id] = out.nextLayer++;
    LayerStack copies;
    for (size_t i = first; i <= *row; ++i)
      copies.push_back(changed(document.layers[i], [&](Layer& l) {
        l.id = numbers[l.id];
        if (i == *row) l.name += " copy";
        if (const auto group = numbers.find(l.group); group != numbers.end()) l.group = group->second;
        if (const auto from = numbers.find(l.maskFrom); from != numbers.end()) l.maskFrom = from->second;
        l.locked = false;
      }));
    const Layer& source = *document.layers[*row];
    // what hangs on a layer goes on hanging on it
    const size_t at = source.clipped ? *row + 1 : hangingEndOf(document.layers, *row);
    if (row == rows->rbegin()) out.activeLayer = copies.back()->id;
    insertAt(out.layers, at, copies);
  }
  return out;
}

Result<Document> withShownAlone(const Document& document, uint32_t id) {
  const size_t at = placeOf(document, id);
  if (at == document.layers.size()) return noSuchLayer(id);
  const LayerStack& layers = document.layers;
  std::map<uint32_t, bool> visible;
  for (const LayerPointer& layer : layers) visible[layer->id] = false;
  // what lies in it stays as it is
  for (size_t i = firstOf(layers, at); i < at; ++i) visible[layers[i]->id] = layers[i]->visible;
  std::vector<size_t> needed = groupsAround(layers, at);
  needed.push_back(at);
  for (const size_t row : needed) {
    visible[layers[row]->id] = true;
    const auto base = baseOf(layers, row);
    if (!base) continue;
    for (size_t i = firstOf(layers, *base); i <= *base; ++i) visible[layers[i]->id] = layers[i]->visible;
    visible[layers[*base]->id] = true;
  }
  return withVisible(document, visible);
}

Document withVisible(const Document& document, const std::map<uint32_t, bool>& visible) {
  Document out = document;
  for (LayerPointer& layer : out.layers)
    if (const auto said = visible.find(layer->id); said != visible.end() && said->second != layer->visible)
      layer = changed(layer, [&](Layer& l) { l.visible = said->second; });
  return out;
}

Result<Document> withLayersChanged(const Document& document, LayerIds ids, const LayerChange& change) {
  if (ids.empty()) return Error{"no layer is chosen"};
  Result<Document> out = document;
  for (const uint32_t id : ids)
    if (out) out = withLayerChanged(*out, id, change);
  return out;
}

}  // namespace juvenor
