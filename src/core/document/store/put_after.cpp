#include "core/document/store/put_after.h"

#include "core/layers/nesting.h"
#include "core/layers/sources/painted.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

namespace juvenor {
namespace {

// One thing as it was for both, and as each has it now. The two befores are equal, but read by two programs.
template <class T>
struct Sides {
  const T &mineBefore, &mine, &theirsBefore, &theirs;
};

Error bothChanged(const std::string& what) {
  return {fmt::format("both changed {}", what)};
}

template <class T>
Result<T> either(const Sides<T>& s, const std::string& what) {
  if (s.mine == s.mineBefore) return s.theirs;
  if (s.theirs == s.theirsBefore || s.mine == s.theirs) return s.mine;
  return bothChanged(what);
}

template <int P>
Result<Field<P>> field(const Sides<Field<P>>& s, const std::string& what) {
  Field<P> out = s.theirs;
  for (size_t i = 0; i < out.chunkCount(); ++i) {
    if (s.mine.chunk(i) == s.mineBefore.chunk(i)) continue;
    if (s.theirs.chunk(i) != s.theirsBefore.chunk(i)) return bothChanged(what + " at the same place");
    out.setChunk(i, s.mine.chunk(i));
  }
  return out;
}

using Mask = std::optional<ScalarField>;

bool leftAlone(const Mask& before, const Mask& after) {
  if (!before || !after) return !before && !after;
  if (before->chunkCount() != after->chunkCount()) return false;
  for (size_t i = 0; i < after->chunkCount(); ++i)
    if (before->chunk(i) != after->chunk(i)) return false;
  return true;
}

// One that was taken away on one side and painted on the other cannot be both.
Result<Mask> mask(const Sides<Mask>& s, const std::string& what) {
  if (leftAlone(s.mineBefore, s.mine)) return s.theirs;
  if (leftAlone(s.theirsBefore, s.theirs)) return s.mine;
  if (!s.mine && !s.theirs) return Mask();
  if (!s.mineBefore || !s.mine || !s.theirsBefore || !s.theirs) return bothChanged(what);
  auto out = field<1>({*s.mineBefore, *s.mine, *s.theirsBefore, *s.theirs}, what);
  if (!out) return out.error();
  return Mask(std::move(*out));
}

Result<SourcePointer> source(const Sides<SourcePointer>& s, const std::string& what) {
  if (s.mine == s.mineBefore) return s.theirs;
  if (s.mine->fields() && s.theirs->fields() && s.mineBefore->fields() && s.theirsBefore->fields()) {
    ChannelFields out = *s.theirs->fields();
    Outcome ok = Done{};
    eachChannel([&](auto c) {
      constexpr Channel kChannel = c();
      const auto of = [](const SourcePointer& p) -> const ChannelField<kChannel>& {
        return p->fields()->template get<kChannel>();
      };
      auto both = field<factsOf(kChannel).planes()>(
          {of(s.mineBefore), of(s.mine), of(s.theirsBefore), of(s.theirs)}, what);
      if (both)
        out.get<c()>() = std::move(*both);
      else
        ok = both.error();
    });
    if (!ok) return ok.error();
    return paintedSource(std::move(out));
  }
  if (s.theirs->parameters() == s.theirsBefore->parameters()) return s.mine;
  return bothChanged(what);
}

Result<LayerPointer> layer(const Sides<Layer>& s) {
  Layer out = s.theirs;
  const std::string name = "layer '" + s.theirs.name + "'";
  Outcome ok = Done{};
  const auto take = [&](auto member) {
    auto value = either<std::remove_reference_t<decltype(out.*member)>>(
        {s.mineBefore.*member, s.mine.*member, s.theirsBefore.*member, s.theirs.*member}, name);
    if (value)
      out.*member = std::move(*value);
    else
      ok = value.error();
  };
  take(&Layer::name);
  take(&Layer::stratum);
  take(&Layer::terms);
  take(&Layer::steps);
  take(&Layer::blend);
  take(&Layer::opacity);
  take(&Layer::strengths);
  take(&Layer::modes);
  take(&Layer::visible);
  take(&Layer::locked);
  take(&Layer::group);
  take(&Layer::clipped);
  take(&Layer::maskFrom);
  take(&Layer::maskOff);
  take(&Layer::keepsCover);
  take(&Layer::folded);
  if (!ok) return ok.error();
  auto content = source({s.mineBefore.source, s.mine.source, s.theirsBefore.source, s.theirs.source}, name);
  if (!content) return content.error();
  auto hides =
      mask({s.mineBefore.mask, s.mine.mask, s.theirsBefore.mask, s.theirs.mask}, "the mask of " + name);
  if (!hides) return hides.error();
  out.source = std::move(*content);
  out.mask = std::move(*hides);
  return LayerPointer(std::make_shared<Layer>(std::move(out)));
}

std::vector<uint32_t> idsOf(const Document& d) {
  std::vector<uint32_t> out;
  for (const LayerPointer& l : d.layers) out.push_back(l->id);
  return out;
}

// The ids of `document` that are in `others` too, in their order.
std::vector<uint32_t> shared(const Document& document, const Document& others) {
  std::vector<uint32_t> out = idsOf(document);
  std::erase_if(out, [&](uint32_t id) { return !layerOf(others, id); });
  return out;
}

// New numbers of my new layers, by those they had.
using NewNumbers = std::map<uint32_t, uint32_t>;

// My new layers get numbers behind theirs, above the layer they lie on with me.
NewNumbers addMine(const Sides<Document>& s, Document& out) {
  NewNumbers numbers;
  uint32_t below = 0;
  for (const LayerPointer& l : s.mine.layers) {
    if (layerOf(s.mineBefore, l->id)) {
      below = l->id;
      continue;
    }
    Layer added = *l;
    added.id = out.nextLayer++;
    size_t at = below == 0 ? 0 : std::min(out.layers.size(), placeOf(out, below) + 1);
    while (at < out.layers.size() && out.layers[at]->stratum < added.stratum) ++at;
    while (at > 0 && out.layers[at - 1]->stratum > added.stratum) --at;
    if (s.mine.activeLayer == l->id) out.activeLayer = added.id;
    below = added.id;
    numbers[l->id] = added.id;
    out.layers.insert(out.layers.begin() + static_cast<std::ptrdiff_t>(at),
                      std::make_shared<Layer>(std::move(added)));
  }
  return numbers;
}

Outcome layers(const Sides<Document>& s, Document& out, NewNumbers& numbers) {
  if (shared(s.mine, s.mineBefore) != idsOf(s.mineBefore))
    return Error{"layers were taken away or moved here"};
  for (const LayerPointer& before : s.mineBefore.layers) {
    const LayerPointer mine = layerOf(s.mine, before->id), theirsBefore = layerOf(s.theirsBefore, before->id),
                       theirs = layerOf(s.theirs, before->id);
    if (mine == before) continue;
    if (!theirs || !theirsBefore)
      return Error{fmt::format("'{}' was changed here and taken away there", before->name)};
    auto both = layer({*before, *mine, *theirsBefore, *theirs});
    if (!both) return both.error();
    if ((*both)->stratum != theirs->stratum) return Error{"layers were moved here"};
    out.layers[placeOf(out, before->id)] = std::move(*both);
  }
  numbers = addMine(s, out);
  // what I put into groups of mine goes by the numbers those have now
  const auto now = [&](uint32_t id) {
    const auto fresh = numbers.find(id);
    return fresh != numbers.end() && !layerOf(s.mineBefore, id) ? fresh->second : id;
  };
  for (const LayerPointer& mine : s.mine.layers) {
    const size_t at = placeOf(out, now(mine->id));
    if (at == out.layers.size()) continue;
    Layer inside = *out.layers[at];
    if (now(mine->group) != mine->group) inside.group = now(mine->group);
    if (now(mine->maskFrom) != mine->maskFrom) inside.maskFrom = now(mine->maskFrom);
    out.layers[at] = std::make_shared<Layer>(std::move(inside));
  }
  if (!wellNested(out.layers)) return Error{"layers were put into groups or moved here"};
  return Done{};
}

// Their checkpoints less those taken away here, and those kept here, whose layers get numbers behind theirs.
// `numbers`: those of my new layers now. What was kept of one that is gone again is tied to a number no layer
// has.
void addCheckpoints(const Sides<Document>& s, const NewNumbers& numbers, Document& out) {
  const auto has = [](const Document& d, const Checkpoint& c) {
    return std::ranges::any_of(d.checkpoints, [&](const Checkpoint& o) { return o.id == c.id; });
  };
  std::erase_if(out.checkpoints,
                [&](const Checkpoint& c) { return has(s.mineBefore, c) && !has(s.mine, c); });
  for (const Checkpoint& c : s.mine.checkpoints) {
    if (has(s.mineBefore, c)) continue;
    Checkpoint added = c;
    added.id = out.nextCheckpoint++;
    for (uint32_t& of : added.of) {
      if (layerOf(s.mineBefore, of)) continue;
      const auto now = numbers.find(of);
      of = now != numbers.end() ? now->second : out.nextLayer++;
    }
    NewNumbers kept;
    for (const LayerPointer& layer : added.layers) kept[layer->id] = out.nextLayer++;
    for (LayerPointer& pointer : added.layers) {
      Layer layer = *pointer;
      layer.id = kept[layer.id];
      if (layer.group != 0) layer.group = kept[layer.group];
      if (layer.maskFrom != 0) layer.maskFrom = kept[layer.maskFrom];
      pointer = std::make_shared<Layer>(std::move(layer));
    }
    out.checkpoints.push_back(std::move(added));
  }
}

Result<Document> merged(const Sides<Document>& s) {
  if (s.mine.refinements != s.mineBefore.refinements || s.theirs.refinements != s.theirsBefore.refinements)
    return Error{"points were added to the surface"};
  if (s.mine.shape != s.mineBefore.shape || s.theirs.shape != s.theirsBefore.shape)
    return Error{"the work was carried over to another sculpt"};
  if (s.mine.placement != s.mineBefore.placement || s.theirs.placement != s.theirsBefore.placement)
    return Error{"the sculpt was made to stand another way"};
  if (s.mine.parts != s.mineBefore.parts || s.theirs.parts != s.theirsBefore.parts)
    return Error{"parts of the sculpt were made or renamed"};
  Document out = s.theirs;
  Outcome ok = Done{};
  const auto take = [&](auto member, const char* what) {
    auto value = either<std::remove_reference_t<decltype(out.*member)>>(
        {s.mineBefore.*member, s.mine.*member, s.theirsBefore.*member, s.theirs.*member}, what);
    if (value)
      out.*member = std::move(*value);
    else if (ok)
      ok = value.error();
  };
  take(&Document::uvs, "the UVs");
  if (out.uvs != s.theirs.uvs) setImported(out, importedSculpt(s.theirs));
  take(&Document::bare, "the bare tone");
  take(&Document::wells, "the wells");
  take(&Document::hiddenParts, "which parts are hidden");
  take(&Document::landmarks, "the landmarks");
  take(&Document::mirror, "the mirror plane");
  take(&Document::rest, "the rest pose");
  if (s.mine.board != s.mineBefore.board) take(&Document::board, "the board");
  if (s.mine.slides != s.mineBefore.slides) take(&Document::slides, "the slides");
  out.nextSlide = std::max(s.mine.nextSlide, s.theirs.nextSlide);
  out.nextPicture = std::max(s.mine.nextPicture, s.theirs.nextPicture);
  out.strokeCount = s.theirs.strokeCount + (s.mine.strokeCount - s.mineBefore.strokeCount);
  if (!ok) return ok.error();
  auto guard = mask({s.mineBefore.guard, s.mine.guard, s.theirsBefore.guard, s.theirs.guard}, "the guard");
  if (!guard) return guard.error();
  out.guard = std::move(*guard);
  if (layerOf(s.theirs, s.mine.activeLayer)) out.activeLayer = s.mine.activeLayer;
  NewNumbers numbers;
  ok = layers(s, out, numbers);
  if (!ok) return ok.error();
  addCheckpoints(s, numbers, out);
  return out;
}

}  // namespace

Result<std::vector<StepPointer>> putAfter(const Opened& theirs, std::span<const StepPointer> mine) {
  const auto known = [&](const StepPointer& step) {
    return std::ranges::find(theirs.steps, step->id, &Step::id);
  };
  size_t fresh = mine.size();
  while (fresh > 0 && known(mine[fresh - 1]) == theirs.steps.end()) --fresh;
  if (fresh == 0) return Error{"no step of this work is in the file any more"};
  const Document &mineBefore = mine[fresh - 1]->document, &theirsBefore = (*known(mine[fresh - 1]))->document;
  const Document& tip = theirs.steps[theirs.current]->document;
  std::vector<StepPointer> out(theirs.steps.begin(),
                               theirs.steps.begin() + static_cast<std::ptrdiff_t>(theirs.current) + 1);
  for (size_t i = fresh; i < mine.size(); ++i) {
    auto document = merged({mineBefore, mine[i]->document, theirsBefore, tip});
    if (!document) return document.error();
    auto step = std::make_shared<Step>(*mine[i]);
    step->id = freshStepId();
    step->bytes = newBytes(out.back()->document, *document);
    step->document = std::move(*document);
    out.push_back(std::move(step));
  }
  return out;
}

}  // namespace juvenor
