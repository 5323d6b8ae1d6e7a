#include "core/layers/prepared_layer.h"

#include <fmt/format.h>

namespace juvenor {
namespace {

Result<PreparedLayer> preparedLayer(const LayerPointer& layer, SurfaceMaps& maps, const Progress& progress) {
  PreparedLayer out{layer, nullptr, nullptr, std::nullopt, {}};
  auto source = layer->source->prepare(maps, progress);
  if (!source) {
    if (isCancelled(source.error())) return source.error();
    out.trouble = source.error();
    return out;
  }
  if (!layer->terms.empty()) {
    const auto mask = maskOf(maps, layer->terms, progress);
    if (!mask) {
      if (isCancelled(mask.error())) return mask.error();
      out.trouble = Error{"its mask: " + mask.error().message()};
      return out;
    }
    out.maps = *mask;
  }
  for (const MapSetting& setting : mapsNeeded({layer}))
    if (MapPointer map = maps.known(setting)) out.held.push_back(std::move(map));
  out.source = std::move(*source);
  return out;
}

}  // namespace

Result<PreparedStack> prepared(const LayerStack& layers, SurfaceMaps& maps, const Progress& progress,
                               const PreparedStack& before, uint32_t also) {
  PreparedStack out;
  for (const LayerPointer& layer : layers) {
    const bool wanted = contributes(*layer) || layer->id == also;
    const auto known = std::ranges::find(before, layer, &PreparedLayer::layer);
    if (known != before.end() && (known->source || known->trouble || !wanted)) {
      out.push_back(*known);
      continue;
    }
    if (!wanted) {
      out.push_back({layer, nullptr, nullptr, std::nullopt, {}});
      continue;
    }
    auto ready = preparedLayer(layer, maps, [&](float f) {
      return report(progress, (static_cast<float>(out.size()) + f) / static_cast<float>(layers.size()));
    });
    if (!ready) return ready.error();
    out.push_back(std::move(*ready));
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

const ScalarChunk* maskChunk(const PreparedLayer& prepared, size_t index, ScalarChunk& scratch) {
  const auto& mask = prepared.layer->mask;
  const ScalarChunk* painted = mask ? mask->chunk(index).get() : nullptr;
  const ScalarChunk* maps = prepared.maps ? prepared.maps->chunk(index).get() : nullptr;
  if (!painted || !maps) return painted ? painted : maps;
  for (size_t i = 0; i < kChunkSize; ++i)
    scratch.plane[0][i] =
        static_cast<uint16_t>((uint32_t{maps->plane[0][i]} * painted->plane[0][i] + 32767) / 65535);
  return &scratch;
}

}  // namespace juvenor
