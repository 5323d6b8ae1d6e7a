#include "core/document/edits/edit_checkpoints.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/document/edits/edits.h"
#include "core/document/edits/moved_field.h"
#include "core/layers/nesting.h"

namespace juvenor {
namespace {

Error noSuch() {
  return {"that checkpoint is not there any more"};
}

// Layers by other numbers, groups too.
LayerStack numbered(const LayerStack& layers, const std::vector<uint32_t>& ids) {
  std::map<uint32_t, uint32_t> now;
  for (size_t i = 0; i < layers.size(); ++i) now[layers[i]->id] = ids[i];
  LayerStack out;
  for (const LayerPointer& layer : layers) {
    Layer copy = *layer;
    copy.id = now[copy.id];
    if (copy.group != 0) copy.group = now[copy.group];
    const auto from = now.find(copy.maskFrom);
    copy.maskFrom = from != now.end() ? from->second : 0;
    out.push_back(std::make_shared<Layer>(std::move(copy)));
  }
  return out;
}

}  // namespace

LayerPointer keptOf(const Checkpoint& checkpoint, uint32_t layer) {
  for (size_t i = 0; i < checkpoint.of.size(); ++i)
    if (checkpoint.of[i] == layer) return checkpoint.layers[i];
  return nullptr;
}

const Checkpoint* checkpointOf(const Document& document, uint32_t id) {
  const auto at = std::ranges::find(document.checkpoints, id, &Checkpoint::id);
  return at == document.checkpoints.end() ? nullptr : &*at;
}

Result<Document> withCheckpoint(const Document& document, std::string name, int64_t time) {
  return withLaterKept(document, document, std::move(name), time);
}

Result<Document> withLaterKept(const Document& document, const Document& later, std::string name,
                               int64_t time) {
  if (later.surface != document.surface)
    return Error{
        "points were added since, or the sculpt was made to stand another way: what was painted then "
        "cannot be kept here"};
  if (later.layers.empty()) return Error{"There is no layer yet to keep."};
  Document out = document;
  Checkpoint kept;
  kept.id = out.nextCheckpoint++;
  kept.name = std::move(name);
  kept.time = time;
  kept.bare = later.bare;
  std::vector<uint32_t> ids;
  for (const LayerPointer& layer : later.layers) {
    ids.push_back(out.nextLayer++);
    // a layer that is not there yet: no layer may get its number
    kept.of.push_back(layerOf(document, layer->id) ? layer->id : out.nextLayer++);
  }
  kept.layers = numbered(later.layers, ids);
  out.checkpoints.push_back(std::move(kept));
  return out;
}

Result<Document> withoutCheckpoint(const Document& document, uint32_t id) {
  Document out = document;
  if (std::erase_if(out.checkpoints, [&](const Checkpoint& c) { return c.id == id; }) == 0) return noSuch();
  return out;
}

Result<Document> withCheckpointNamed(const Document& document, uint32_t id, std::string name) {
  Document out = document;
  const auto at = std::ranges::find(out.checkpoints, id, &Checkpoint::id);
  if (at == out.checkpoints.end()) return noSuch();
  at->name = std::move(name);
  return out;
}

Result<Document> asKept(const Document& document, uint32_t id) {
  const Checkpoint* kept = checkpointOf(document, id);
  if (!kept) return noSuch();
  Document out = document;
  out.layers = kept->layers;
  out.bare = kept->bare;
  out.activeLayer = out.layers.empty() ? 0 : out.layers.back()->id;
  return out;
}

Result<Document> withCheckpointBack(const Document& document, uint32_t id) {
  const Checkpoint* kept = checkpointOf(document, id);
  if (!kept) return noSuch();
  Document out = document;
  out.layers = numbered(kept->layers, kept->of);
  out.bare = kept->bare;
  if (!layerOf(out, out.activeLayer)) out.activeLayer = out.layers.empty() ? 0 : out.layers.back()->id;
  return out;
}

Result<Document> withKeptLayer(const Document& document, uint32_t id, uint32_t kept) {
  const Checkpoint* checkpoint = checkpointOf(document, id);
  if (!checkpoint) return noSuch();
  const auto layer = std::ranges::find(checkpoint->layers, kept, [](const LayerPointer& l) { return l->id; });
  if (layer == checkpoint->layers.end()) return Error{"that layer is not in the checkpoint"};
  const Layer& was = **layer;
  Document out =
      withSourceLayer(document, fmt::format("{} ({})", was.name, checkpoint->name), was.stratum, was.source);
  const size_t at = placeOf(out, out.activeLayer);
  const Layer placed = *out.layers[at];
  Layer fresh = was;
  fresh.id = placed.id;
  fresh.name = placed.name;
  fresh.group = placed.group;
  fresh.clipped = fresh.locked = false;
  fresh.maskFrom = 0;
  out.layers[at] = std::make_shared<Layer>(std::move(fresh));
  // a group comes with what lay in it
  const auto row = static_cast<size_t>(layer - checkpoint->layers.begin());
  const size_t first = firstOf(checkpoint->layers, row);
  const LayerStack within(checkpoint->layers.begin() + static_cast<std::ptrdiff_t>(first), layer + 1);
  std::vector<uint32_t> ids;
  while (ids.size() + 1 < within.size()) ids.push_back(out.nextLayer++);
  ids.push_back(placed.id);
  LayerStack inside = numbered(within, ids);
  inside.pop_back();
  out.layers.insert(out.layers.begin() + static_cast<std::ptrdiff_t>(at), inside.begin(), inside.end());
  return out;
}

Result<ChannelFields> fieldsKeptOf(const Document& document, uint32_t id, uint32_t layer) {
  const Checkpoint* checkpoint = checkpointOf(document, id);
  if (!checkpoint) return noSuch();
  const LayerPointer kept = keptOf(*checkpoint, layer);
  if (!kept) return ChannelFields(document.surface->size());
  if (const ChannelFields* fields = kept->source->fields()) return *fields;
  return Error{fmt::format("“{}” was no painted layer when “{}” was kept. Bring it back as a layer instead.",
                           kept->name, checkpoint->name)};
}

Result<ScalarField> maskKeptOf(const Document& document, uint32_t id, uint32_t layer) {
  const Checkpoint* checkpoint = checkpointOf(document, id);
  if (!checkpoint) return noSuch();
  const LayerPointer kept = keptOf(*checkpoint, layer);
  return kept && kept->mask ? *kept->mask : openMask(document.surface->size());
}

Result<Document> withRestored(const Document& document, uint32_t id, uint32_t layer, ChannelSet channels,
                              float strength) {
  if (const Outcome ok = paintable(document, layer, false); !ok) return ok.error();
  const auto kept = fieldsKeptOf(document, id, layer);
  if (!kept) return kept.error();
  ChannelFields fields = *layerOf(document, layer)->source->fields();
  const float way = std::clamp(strength, 0.f, 1.f);
  eachChannel([&](auto c) {
    if (!channels.has(c())) return;
    auto& now = fields.get<c()>();
    const auto& then = kept->template get<c()>();
    if (way >= 1 && !document.guard) {
      now = then;
      return;
    }
    using Target = std::optional<typename ChannelField<c()>::Value>;
    now = movedField<factsOf(c()).planes()>(now, document, way, [&](size_t s) {
      const size_t chunk = s / kChunkSize;
      return now.chunk(chunk) == then.chunk(chunk) ? Target() : Target(then.at(s));
    });
  });
  return withPainted(document, layer, std::move(fields));
}

}  // namespace juvenor
