#include "core/layers/prepared_layer.h"

#include <fmt/format.h>

#include <numeric>

#include "core/layers/nesting.h"
#include "core/parallel.h"

namespace juvenor {
namespace {

// What an earlier stack on the same surface holds of the things a layer is made from, whoever they were made
// for.
struct Kept {
  const PreparedLayer* source = nullptr;
  const PreparedLayer* maps = nullptr;
  const PreparedLayer* steps = nullptr;
  const PreparedSource* earlier = nullptr;  ///< of the layer itself, whatever it was then
};

Kept keptFor(const Layer& layer, const PreparedStack& before) {
  Kept out;
  for (const PreparedLayer& p : before) {
    if (p.layer->id == layer.id) out.earlier = p.source.get();
    if (!p.source || p.waiting) continue;
    if (p.layer->source == layer.source) out.source = &p;
    if (p.maps && p.layer->terms == layer.terms) out.maps = &p;
    if (p.steps && p.layer->steps == layer.steps) out.steps = &p;
  }
  return out;
}

Result<PreparedLayer> preparedLayer(const LayerPointer& layer, SurfaceMaps& maps, const Kept& kept,
                                    const Progress& progress) {
  PreparedLayer out{layer, nullptr, nullptr, std::nullopt, false, {}};
  PreparedSourcePointer source;
  if (kept.source) {
    source = kept.source->source;
  } else {
    auto fresh = layer->source->prepare(maps, progress);
    if (!fresh) {
      if (isCancelled(fresh.error())) return fresh.error();
      out.trouble = fresh.error();
      return out;
    }
    source = std::move(*fresh);
    if (kept.earlier) source->takeOver(*kept.earlier);
  }
  if (kept.maps) {
    out.maps = kept.maps->maps;
  } else if (!layer->terms.empty()) {
    const auto mask = maskOf(maps, layer->terms, progress);
    if (!mask) {
      if (isCancelled(mask.error())) return mask.error();
      out.trouble = Error{"its mask: " + mask.error().message()};
      return out;
    }
    out.maps = *mask;
  }
  if (kept.steps) {
    out.steps = kept.steps->steps;
  } else if (!layer->steps.empty()) {
    auto steps = preparedSteps(maps, layer->steps, progress);
    if (!steps) {
      if (isCancelled(steps.error())) return steps.error();
      out.trouble = Error{"its mask: " + steps.error().message()};
      return out;
    }
    out.steps = std::move(*steps);
  }
  for (const MapSetting& setting : mapsNeeded({layer}))
    if (MapPointer map = maps.known(setting)) out.held.push_back(std::move(map));
  out.source = std::move(source);
  return out;
}

bool isReady(const Layer& layer, SurfaceMaps& maps, const Kept& kept) {
  return (kept.source || layer.source->isReady(maps)) &&
         (kept.maps || layer.terms.empty() || isMaskReady(maps, layer.terms)) &&
         (kept.steps || areStepsReady(maps, layer.steps));
}

const PreparedLayer* known(const PreparedStack& before, const LayerPointer& layer) {
  const auto found = std::ranges::find(before, layer, &PreparedLayer::layer);
  return found != before.end() && !found->waiting && (found->source || found->trouble) ? &*found : nullptr;
}

// What tells of the layers around it tells of those of another stack.
void unlink(PreparedLayer& layer) {
  layer.below = nullptr;
  layer.live = nullptr;
  layer.stepped = nullptr;
}

// What a layer that takes time shows meanwhile: what it was before it changed. One that is not seen has
// nothing: nobody waits for it, and nothing old may pass for it later.
PreparedLayer standIn(const PreparedStack& before, const LayerPointer& layer, bool seen) {
  PreparedLayer out{layer, nullptr, nullptr, std::nullopt, seen, {}};
  if (!seen) return out;
  const auto old = std::ranges::find(before, layer->id, [](const PreparedLayer& p) { return p.layer->id; });
  if (old == before.end() || &old->layer->source->kind() != &layer->source->kind()) return out;
  out.source = old->source;
  out.maps = old->maps;
  out.steps = old->steps;
  out.held = old->held;
  return out;
}

}  // namespace

Result<PreparedStack> prepared(const LayerStack& layers, SurfaceMaps& maps, const Progress& progress,
                               const PreparedStack& before, uint32_t also) {
  PreparedStack out;
  for (size_t i = 0; i < layers.size(); ++i) {
    const LayerPointer& layer = layers[i];
    if (const PreparedLayer* ready = known(before, layer)) {
      out.push_back(*ready);
      unlink(out.back());
      continue;
    }
    const Kept kept = keptFor(*layer, before);
    if (takesPart(layers, i) || layer->id == also || isReady(*layer, maps, kept)) {
      auto fresh = preparedLayer(layer, maps, kept, [&](float f) {
        return report(progress, (static_cast<float>(i) + f) / static_cast<float>(layers.size()));
      });
      if (!fresh) return fresh.error();
      out.push_back(std::move(*fresh));
    } else {
      out.push_back({layer, nullptr, nullptr, std::nullopt, false, {}});
    }
  }
  return out;
}

PreparedStack preparedNow(const LayerStack& layers, SurfaceMaps& maps, const PreparedStack& before) {
  PreparedStack out;
  for (size_t i = 0; i < layers.size(); ++i) {
    const LayerPointer& layer = layers[i];
    if (const PreparedLayer* ready = known(before, layer)) {
      out.push_back(*ready);
      unlink(out.back());
      continue;
    }
    const Kept kept = keptFor(*layer, before);
    if (isReady(*layer, maps, kept))
      out.push_back(*preparedLayer(layer, maps, kept, {}));
    else
      out.push_back(standIn(before, layer, takesPart(layers, i)));
  }
  return out;
}

std::vector<MapSetting> mapsNeeded(const LayerStack& layers) {
  std::vector<MapSetting> out;
  for (const LayerPointer& layer : layers)
    for (const auto& maps : {layer->source->mapsNeeded(), mapsOf(layer->terms)})
      out.insert(out.end(), maps.begin(), maps.end());
  return out;
}

Outcome withoutTrouble(const PreparedStack& stack) {
  for (const PreparedLayer& p : stack)
    if (p.trouble)
      return Error{fmt::format("layer '{}' cannot be worked out: {}", p.layer->name, p.trouble->message())};
  return Done{};
}

namespace {

void multiply(ScalarChunk& product, const ScalarChunk& by) {
  for (size_t i = 0; i < kChunkSize; ++i)
    product.plane[0][i] =
        static_cast<uint16_t>((uint32_t{product.plane[0][i]} * by.plane[0][i] + 32767) / 65535);
}

}  // namespace

const ScalarChunk* shownChunk(const PreparedLayer& prepared, size_t index, ScalarChunk& scratch) {
  if (prepared.layer->maskOff) return nullptr;
  if (!prepared.stepped) return plainChunk(prepared, index, scratch);
  scratch = *prepared.stepped->at(index);
  return &scratch;
}

const ScalarChunk* plainChunk(const PreparedLayer& prepared, size_t index, ScalarChunk& scratch) {
  const auto& mask = prepared.layer->mask;
  const ScalarChunk* painted = mask ? mask->chunk(index).get() : nullptr;
  const ScalarChunk* maps = prepared.maps ? prepared.maps->chunk(index).get() : nullptr;
  if (!prepared.live && (!painted || !maps)) return painted ? painted : maps;
  ScalarField::Pointer live;
  if (prepared.live && !(live = prepared.live->at(index))) {
    scratch = {};
    return &scratch;
  }
  bool any = false;
  for (const ScalarChunk* one : {maps, painted, live.get()}) {
    if (!one) continue;
    if (std::exchange(any, true))
      multiply(scratch, *one);
    else
      scratch = *one;
  }
  return &scratch;
}

const ScalarChunk* maskChunk(const PreparedLayer& layer, size_t index, ScalarChunk& scratch) {
  return layer.source && layer.source->thins() ? nullptr : shownChunk(layer, index, scratch);
}

void updateMask(ScalarField& mask, const PreparedLayer& layer, std::span<const uint32_t> chunks) {
  mask.makeRoom();
  parallel(
      chunks.size(),
      [&](size_t i) {
        auto scratch = std::make_shared<ScalarChunk>();
        const ScalarChunk* both = shownChunk(layer, chunks[i], *scratch);
        if (both && both != scratch.get()) *scratch = *both;
        mask.setChunk(chunks[i], both ? std::move(scratch) : nullptr);
      },
      1);
}

ScalarField wholeMask(const PreparedLayer& layer, size_t samples) {
  ScalarField out = openMask(samples);
  std::vector<uint32_t> all(out.chunkCount());
  std::iota(all.begin(), all.end(), 0);
  updateMask(out, layer, all);
  return out;
}

}  // namespace juvenor
