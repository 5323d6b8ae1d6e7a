// Layers that become one. What comes out is put together as the composite puts a group together by itself;
// then it is looked at whether the skin still looks the same, for modes over nothing, tints and layers that
// look below cannot always be one layer.
#include <fmt/format.h>

#include <algorithm>

#include "core/document/edits/edit_groups.h"
#include "core/document/whole_stack.h"
#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/composite.h"
#include "core/layers/composite/stack_chunk.h"
#include "core/layers/group.h"
#include "core/layers/sources/painted.h"
#include "core/surface/map_field.h"

namespace juvenor {
namespace {

// A quarter of a step of eight bits: what rounding twice may come to.
constexpr int kSeen = 64;

// Stretch [first, row] of a stack without what lies above, its lowest mixed in as if it were alone and
// hanging on nothing that is not there.
PreparedStack stretch(const PreparedStack& stack, size_t first, size_t row) {
  PreparedStack out(stack.begin(), stack.begin() + static_cast<std::ptrdiff_t>(row) + 1);
  const size_t lowest = itemAt(out, first, row + 1, layerAt(out, row).group).row;
  const bool hangs = layerAt(out, lowest).clipped;
  for (size_t i = lowest; i <= row; ++i) {
    Layer plain = *out[i].layer;
    if (i == lowest) {
      plain.blend = BlendMode::Normal;
      plain.modes = {};
    }
    if (hangs && plain.group == layerAt(out, row).group) plain.clipped = false;
    if (i == lowest || hangs) out[i].layer = std::make_shared<Layer>(std::move(plain));
  }
  return out;
}

ChannelFields putTogether(const Document& document, const PreparedStack& stack, size_t first, size_t row) {
  const PreparedStack part = stretch(stack, first, row);
  ChannelSet brings;
  for (size_t i = first; i <= row; ++i)
    if (shows(part[i])) brings |= part[i].source->channels();
  ChannelFields out(document.surface->size());
  eachChannel([&](auto c) {
    if (!brings.has(c())) return;
    out.get<c()>() = mapField(out.get<c()>(), [&](size_t i, size_t, size_t) {
      return StackChunk<c()>(part, document.bare, i).apart(first);
    });
  });
  return out;
}

template <int Planes>
bool differSeen(const Chunk<Planes>& a, const Chunk<Planes>& b) {
  for (int p = 0; p < Planes; ++p)
    for (size_t i = 0; i < kChunkSize; ++i)
      if (std::abs(int{a.plane[p][i]} - int{b.plane[p][i]}) > kSeen) return true;
  return false;
}

bool lookTheSame(const ChannelFields& a, const ChannelFields& b) {
  bool same = true;
  eachChannel([&](auto c) {
    const auto &was = a.get<c()>(), &is = b.get<c()>();
    for (size_t i = 0; i < was.chunkCount() && same; ++i)
      if (was.chunk(i) != is.chunk(i) && differSeen(*was.writable(i), *is.writable(i))) same = false;
  });
  return same;
}

Error wouldChange(const Layer& upper, const Layer& lower) {
  const std::string_view why =
      lower.blend != BlendMode::Normal
          ? "the lower one is mixed with what lies below it, and one layer has one way to mix"
      : upper.blend != BlendMode::Normal
          ? "its way to mix needs what lies below both"
          : "it changes or looks at what lies below both, or others hang on it";
  return {
      fmt::format("“{}” and “{}” cannot be one layer without changing the look: {}. Put both in a group, or "
                  "merge all that is seen.",
                  upper.name, lower.name, why)};
}

Result<Document> mergedStretch(const Document& document, size_t first, size_t lowest, size_t row) {
  for (size_t i = first; i <= row; ++i)
    if (const Outcome free = unlocked(document, i, "merge"); !free) return free.error();
  auto stack = wholeStackOf(document);
  if (!stack) return stack.error();
  const Layer& lower = *document.layers[lowest];
  Layer result = lower;
  result.source = paintedSource(putTogether(document, *stack, first, row));
  result.mask.reset();
  result.terms.clear();
  result.steps.clear();
  result.opacity = 1;
  result.strengths = ChannelStrengths::all(1);
  result.folded = result.maskOff = false;
  result.maskFrom = 0;
  if (const Group* group = groupOf(*lower.source); group && group->passes) result.blend = BlendMode::Normal;
  Document out = document;
  const auto place = [&](size_t i) { return out.layers.begin() + static_cast<std::ptrdiff_t>(i); };
  out.activeLayer = result.id;
  out.layers[first] = std::make_shared<Layer>(std::move(result));
  out.layers.erase(place(first + 1), place(row + 1));
  if (const Outcome nested = wellNested(out.layers); !nested) return nested.error();
  auto after = wholeStackOf(document, out.layers);
  if (!after) return after.error();
  const size_t samples = document.surface->size();
  if (!lookTheSame(skinOf(*stack, samples, document.bare), skinOf(*after, samples, document.bare)))
    return wouldChange(*document.layers[row], lower);
  return out;
}

}  // namespace

Result<Document> withMergedDown(const Document& document, uint32_t id) {
  const size_t at = placeOf(document, id);
  if (at == document.layers.size()) return Error{fmt::format("there is no layer {}", id)};
  const Layer& upper = *document.layers[at];
  const size_t first = firstOf(document.layers, at);
  const LayerPointer lower = first > 0 ? document.layers[first - 1] : nullptr;
  if (!lower || lower->group != upper.group)
    return Error{fmt::format("there is no layer below “{}” to merge into", upper.name)};
  if (lower->stratum != upper.stratum)
    return Error{
        fmt::format("the layer below “{}” lies in another stratum. Move one of the two first.", upper.name)};
  const std::array<uint32_t, 2> both{lower->id, id};
  return withMerged(document, both);
}

Result<Document> withMerged(const Document& document, LayerIds ids) {
  std::vector<size_t> rows;
  for (const uint32_t id : ids) {
    const size_t at = placeOf(document, id);
    if (at == document.layers.size()) return Error{fmt::format("there is no layer {}", id)};
    if (!document.layers[at]->visible)
      return Error{fmt::format("“{}” is hidden. Show it, then merge.", document.layers[at]->name)};
    rows.push_back(at);
  }
  std::ranges::sort(rows);
  std::erase_if(rows, [&](size_t row) {
    return std::ranges::any_of(groupsAround(document.layers, row),
                               [&](size_t g) { return std::ranges::binary_search(rows, g); });
  });
  if (rows.empty() || (rows.size() == 1 && !isGroup(*document.layers[rows[0]])))
    return Error{"choose two layers or more that lie next to each other, or a group"};
  for (size_t k = 1; k < rows.size(); ++k) {
    const Layer &lower = *document.layers[rows[k - 1]], &upper = *document.layers[rows[k]];
    if (firstOf(document.layers, rows[k]) != rows[k - 1] + 1 || lower.group != upper.group ||
        lower.stratum != upper.stratum)
      return Error{fmt::format("“{}” and “{}” do not lie next to each other in one group and stratum",
                               lower.name, upper.name)};
  }
  return mergedStretch(document, firstOf(document.layers, rows[0]), rows[0], rows.back());
}

Result<Document> withMergedVisible(const Document& document, std::string name) {
  auto stack = wholeStackOf(document);
  if (!stack) return stack.error();
  ChannelFields skin = skinOf(*stack, document.surface->size(), document.bare);
  std::set<uint32_t> stays;
  for (size_t i = 0; i < document.layers.size(); ++i) {
    const Layer& layer = *document.layers[i];
    if (isGroup(layer)) continue;
    if (takesPart(document.layers, i)) {
      if (const Outcome free = unlocked(document, i, "merge"); !free) return free.error();
      continue;
    }
    stays.insert(layer.id);
    for (const size_t g : groupsAround(document.layers, i)) stays.insert(document.layers[g]->id);
  }
  if (stays.size() == document.layers.size()) return Error{"nothing is seen that could be merged"};
  Document out = document;
  std::erase_if(out.layers, [&](const LayerPointer& l) { return !stays.contains(l->id); });
  if (const Outcome nested = wellNested(out.layers); !nested) return nested.error();
  Layer merged;
  merged.id = out.nextLayer++;
  merged.name = std::move(name);
  merged.stratum = Stratum::Flesh;
  // what was never written reads as bare skin there, and as nothing here, which shows the same
  ChannelFields fields(document.surface->size());
  eachChannel([&](auto c) {
    for (size_t i = 0; i < fields.get<c()>().chunkCount(); ++i)
      fields.get<c()>().setChunk(i, skin.get<c()>().chunk(i));
  });
  merged.source = paintedSource(std::move(fields));
  out.activeLayer = merged.id;
  out.layers.insert(out.layers.begin(), std::make_shared<Layer>(std::move(merged)));
  return out;
}

}  // namespace juvenor
