#include "core/document/document.h"

#include <fmt/format.h>

#include "core/document/surface_state.h"
#include "core/json_fields.h"
#include "core/layers/nesting.h"
#include "core/layers/sources/painted.h"

namespace juvenor {

std::vector<EncodedColor> defaultWells() {
  // Made-up skin and creature tones: light to dark skin, blood, gill, bone, moss, slate.
  std::vector<EncodedColor> out;
  for (const char* hex : {"#f2dcc0", "#deb088", "#b9855f", "#8d6a54", "#5d4035", "#a34b3d", "#d07b6a",
                          "#d9b44c", "#6d8a86", "#3c5b66"})
    out.push_back(*fromHex(hex));
  return out;
}

std::shared_ptr<const Sculpt> importedSculpt(const Document& document) {
  if (document.uvs.empty() && !document.parts.any()) return document.sculpt;
  auto out = std::make_shared<Sculpt>(*document.sculpt);
  out->uvSets.erase(out->uvSets.begin(),
                    out->uvSets.begin() + static_cast<std::ptrdiff_t>(document.uvs.size()));
  putFileParts(*out, document.parts);
  return out;
}

void setImported(Document& document, std::shared_ptr<const Sculpt> imported) {
  document.sculpt = imported;
  if (document.uvs.empty() && !document.parts.any()) return;
  auto out = std::make_shared<Sculpt>(*imported);
  out->uvSets.clear();
  for (const MadeUvs& m : document.uvs) out->uvSets.push_back(*m.set);
  out->uvSets.insert(out->uvSets.end(), imported->uvSets.begin(), imported->uvSets.end());
  if (MadeParts& parts = document.parts; parts.any()) {
    parts.ownNames = imported->parts;
    parts.ownPart = std::make_shared<const std::vector<uint32_t>>(std::move(out->polygonPart));
    out->parts = parts.names;
    out->polygonPart = parts.labels->ofPolygon;
  }
  document.sculpt = std::move(out);
}

void setSurface(Document& document, std::shared_ptr<const Surface> surface) {
  document.maps = std::make_shared<SurfaceMaps>(surface, document.reliefStep);
  document.reliefStep = document.maps->reliefStep();
  document.surface = std::move(surface);
}

Mirrors mirrorsOf(const Document& document) {
  return Mirrors(document.mirror, document.rest.skin);
}

void giveDoubt(const Document& document) {
  if (!document.doubt) return;
  auto values = std::make_shared<MapValues>(document.doubt->size());
  for (size_t s = 0; s < values->size(); ++s) (*values)[s] = document.doubt->at(s)[0];
  MapSetting doubt;
  doubt.kind = &kDoubtMap;
  document.maps->give(doubt, std::move(values));
}

std::string surfaceKey(const Document& document) {
  const std::string refinements = textOf(toJson(document.refinements));
  const Placement& p = document.placement;
  std::string shape = document.shape ? fmt::format("{:016x} ", document.shape) : std::string();
  if (document.parts.any()) shape += fmt::format("parts {:016x} ", document.parts.fingerprint);
  if (turnOf(p).isIdentity(0)) return shape + refinements;
  return fmt::format("{}{} {} {}", shape, refinements, axisKey(p.up), axisKey(p.front));
}

Document newDocument(std::shared_ptr<const Sculpt> sculpt, std::shared_ptr<const Surface> surface,
                     const Placement& placement) {
  Document d;
  d.sculpt = std::move(sculpt);
  d.placement = placement;
  setSurface(d, placed(std::move(surface), placement));
  d.wells = defaultWells();
  if (d.sculpt->colors.empty()) return d;
  ColorField field(d.surface->size());
  std::vector<std::shared_ptr<ColorChunk>> chunks(field.chunkCount());
  for (auto& c : chunks) c = std::make_shared<ColorChunk>();
  for (size_t v = 0; v < d.sculpt->vertices.size(); ++v) {
    const uint32_t s = d.surface->sampleOfVertex[v];
    setSample(*chunks[s / kChunkSize], s % kChunkSize, d.sculpt->colors[v]);
  }
  for (size_t i = 0; i < chunks.size(); ++i) field.setChunk(i, chunks[i]);
  Layer layer;
  layer.id = d.nextLayer++;
  layer.name = "Colours from the file";
  layer.stratum = Stratum::Flesh;
  layer.source = paintedSource(std::move(field));
  d.activeLayer = layer.id;
  d.layers.push_back(std::make_shared<Layer>(std::move(layer)));
  return d;
}

LayerPointer layerOf(const Document& document, uint32_t id) {
  const size_t place = placeOf(document, id);
  return place < document.layers.size() ? document.layers[place] : nullptr;
}

LayerPointer layerOrKept(const Document& document, uint32_t id) {
  if (LayerPointer layer = layerOf(document, id)) return layer;
  for (const Checkpoint& c : document.checkpoints)
    for (const LayerPointer& layer : c.layers)
      if (layer->id == id) return layer;
  return nullptr;
}

void eachLayer(Document& document, const std::function<void(LayerPointer&)>& visit) {
  for (LayerPointer& layer : document.layers) visit(layer);
  for (Checkpoint& c : document.checkpoints)
    for (LayerPointer& layer : c.layers) visit(layer);
}

size_t placeOf(const Document& document, uint32_t id) {
  size_t i = 0;
  while (i < document.layers.size() && document.layers[i]->id != id) ++i;
  return i;
}

bool hasColor(const Document& document) {
  const auto [least, most] = std::minmax({document.bare.r, document.bare.g, document.bare.b});
  if (most - least > 0.01f) return true;
  for (size_t i = 0; i < document.layers.size(); ++i)
    if (takesPart(document.layers, i) && document.layers[i]->source->channels().has(Channel::Color))
      return true;
  return false;
}

std::map<uint64_t, PicturePointer> picturesOf(const Document& document) {
  std::map<uint64_t, PicturePointer> out;
  const auto add = [&](const PicturePointer& picture) {
    if (picture) out[picture->fingerprint] = picture;
  };
  for (const BoardPicture& b : document.board) add(b.data);
  for (const Slide& s : document.slides) add(s.picture);
  const auto addAll = [&](const LayerStack& layers) {
    for (const LayerPointer& layer : layers)
      for (const PicturePointer& picture : layer->source->pictures()) add(picture);
  };
  addAll(document.layers);
  for (const Checkpoint& c : document.checkpoints) addAll(c.layers);
  return out;
}

}  // namespace juvenor
