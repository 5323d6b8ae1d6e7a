#include "core/document/edits/edit_checkpoints.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/document/edits/edits.h"
#include "core/document/edits/moved_field.h"

namespace juvenor {
namespace {

Error noSuch() {
  return {"that checkpoint is not there any more"};
}

LayerPointer numbered(const Layer& layer, uint32_t id) {
  Layer out = layer;
  out.id = id;
  return std::make_shared<Layer>(std::move(out));
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
  for (const LayerPointer& layer : later.layers) {
    kept.layers.push_back(numbered(*layer, out.nextLayer++));
    // a layer that is not there yet: no layer may get its number
    kept.of.push_back(layerOf(document, layer->id) ? layer->id : out.nextLayer++);
  }
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
  out.layers.clear();
  for (size_t i = 0; i < kept->layers.size(); ++i)
    out.layers.push_back(numbered(*kept->layers[i], kept->of[i]));
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
  LayerPointer& placed = out.layers[placeOf(out, out.activeLayer)];
  Layer fresh = was;
  fresh.id = placed->id;
  fresh.name = placed->name;
  fresh.locked = false;
  placed = std::make_shared<Layer>(std::move(fresh));
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
