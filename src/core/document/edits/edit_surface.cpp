#include <map>
#include <ranges>

#include "core/document/edits/edits.h"
#include "core/layers/guides.h"
#include "core/layers/prepared_layer.h"
#include "core/layers/sources/markings.h"
#include "core/layers/sources/painted.h"
#include "core/layers/sources/thrown.h"

namespace juvenor {
namespace {

// Puts an anchor where the skin it lay on is now.
HueZone turned(HueZone zone, const Eigen::Matrix3f& turn) {
  zone.anchor = turn * zone.anchor;
  return zone;
}

// The source with what it ties to places of the skin there again; null when it ties nothing.
SourcePointer turnedSource(const LayerSource& source, const Eigen::Matrix3f& turn) {
  if (const Throw* thrown = throwOf(source)) {
    Throw turned = *thrown;
    for (Slide& slide : turned.slides) slide = movedSlide(std::move(slide), turn);
    return throwSource(std::move(turned));
  }
  SourcePointer out;
  if (const Veins* veins = veinsOf(source)) {
    Veins turned = *veins;
    turned.toward = turn * turned.toward;
    out = veinSource(std::move(turned));
  }
  if (const Guides* guides = source.guides()) out = source.withGuides(turned(*guides, turn));
  const LayerSource& now = out ? *out : source;
  const ZoneSet* zones = now.zones();
  // most patterns keep their areas with their guides, which have turned already
  if (!zones || (out && out->guides() && out->guides()->size.smaller == zones->zones)) return out;
  ZoneSet set = *zones;
  for (HueZone& zone : set.zones) zone = turned(std::move(zone), turn);
  return now.withZones(std::move(set));
}

template <int P>
void shareChunks(Field<P>& field, const Field<P>& other) {
  if (field.size() != other.size()) return;
  for (size_t i = 0; i < field.chunkCount(); ++i) {
    const auto &mine = field.chunk(i), &theirs = other.chunk(i);
    if (mine && theirs && mine != theirs && mine->plane == theirs->plane) field.setChunk(i, theirs);
  }
}

// A layer with the chunks of another wherever they hold the same.
Layer sharing(Layer layer, const Layer& other) {
  const ChannelFields *mine = layer.source->fields(), *theirs = other.source->fields();
  if (mine && theirs && mine != theirs) {
    ChannelFields fields = *mine;
    eachChannel([&](auto c) { shareChunks(fields.get<c()>(), theirs->get<c()>()); });
    layer.source = paintedSource(std::move(fields));
  }
  if (layer.mask && other.mask) shareChunks(*layer.mask, *other.mask);
  return layer;
}

// What checkpoints shared with the layers they were kept of, and with each other, they share again: each was
// worked out by itself.
void shareAgain(Document& document) {
  std::map<uint32_t, LayerPointer> newest;  // by the layer they were kept of
  for (const LayerPointer& layer : document.layers) newest[layer->id] = layer;
  for (Checkpoint& checkpoint : std::views::reverse(document.checkpoints))
    for (size_t i = 0; i < checkpoint.layers.size(); ++i) {
      LayerPointer& kept = checkpoint.layers[i];
      LayerPointer& near = newest[checkpoint.of[i]];
      if (near) kept = std::make_shared<Layer>(sharing(*kept, *near));
      near = kept;
    }
}

}  // namespace

Result<Document> withRefinement(const Document& document, const Refinement& refinement,
                                const Progress& progress) {
  const auto before = unplaced(document.surface, document.placement);
  auto refined = refine(*before, refinement, kMostSamples, progress);
  if (!refined) return refined.error();
  Document out = document;
  setSurface(out, placed(refined->surface, document.placement));
  out.refinements.push_back(refinement);
  std::map<SourcePointer, SourcePointer> sources;  // finer ones, by those before
  eachLayer(out, [&](LayerPointer& pointer) {
    Layer layer = *pointer;
    SourcePointer& source = sources[layer.source];
    if (!source) source = layer.source->refined(*refined);
    layer.source = source;
    if (layer.mask) layer.mask = refinedField(*layer.mask, refined->origins);
    pointer = std::make_shared<Layer>(std::move(layer));
  });
  shareAgain(out);
  if (out.guard) out.guard = refinedField(*out.guard, refined->origins);
  // what layers derive from the shape is measured anew on the finer surface
  const auto ready = prepared(out.layers, *out.maps, progress);
  if (!ready) return ready.error();
  return out;
}

Result<Document> withPlacement(const Document& document, const Placement& placement,
                               const Progress& progress) {
  if (const Outcome sound = checked(placement); !sound) return sound.error();
  Document out = document;
  out.placement = placement;
  const Eigen::Matrix3f turn = turnOf(placement) * turnOf(document.placement).transpose();
  if (turn.isIdentity(0)) return out;
  setSurface(out, placed(unplaced(document.surface, document.placement), placement));
  for (Slide& slide : out.slides) slide = movedSlide(std::move(slide), turn);
  for (Landmark& landmark : out.landmarks) landmark.position = turn * landmark.position;
  eachLayer(out, [&](LayerPointer& pointer) {
    Layer layer = *pointer;
    layer.source = turnedSource(*layer.source, turn);
    if (layer.source) pointer = std::make_shared<Layer>(std::move(layer));
  });
  const auto ready = prepared(out.layers, *out.maps, progress);
  if (!ready) return ready.error();
  return out;
}

}  // namespace juvenor
