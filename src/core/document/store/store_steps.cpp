// Steps of the work put together from what files say of them: each from the one before, whose chunks and
// layers it shares where it left them alone.
#include <fmt/format.h>

#include <algorithm>

#include "core/document/document_fields.h"
#include "core/document/store/state_json.h"
#include "core/document/store/store.h"
#include "core/document/surface_state.h"
#include "core/json_fields.h"
#include "core/layers/sources/painted.h"

namespace juvenor {
namespace {

bool hasSize(const Layer& layer, size_t samples) {
  const ChannelFields* fields = layer.source->fields();
  return (!fields || fields->size() == samples) && (!layer.mask || layer.mask->size() == samples);
}

// An entry of a list of an object; null where it has none.
const nlohmann::json* entryOf(const nlohmann::json* holder, const char* key, size_t at) {
  if (!holder || !holder->is_object()) return nullptr;
  const auto list = holder->find(key);
  if (list == holder->end() || !list->is_array() || at >= list->size()) return nullptr;
  return &(*list)[at];
}

size_t placeOfCheckpoint(const Document& document, uint32_t id) {
  const auto found = std::ranges::find(document.checkpoints, id, &Checkpoint::id);
  return static_cast<size_t>(found - document.checkpoints.begin());
}

}  // namespace

// Whether a step painted on a layer, or it is another one altogether.
bool Store::hasNewPaint(const Row& row, const Layer& layer, const Layer& ground, size_t samples) {
  const auto changed = [&](const Change& c) { return c.field.layer == layer.id; };
  return ground.id != layer.id || !hasSize(ground, samples) || std::ranges::any_of(row.changes, changed);
}

// Null where it is told nowhere.
const nlohmann::json* Store::saidOfCheckpoint(const nlohmann::json* state, size_t checkpoint) {
  const nlohmann::json* said = entryOf(state, "checkpoints", checkpoint);
  if (!said) return nullptr;
  const auto whole = pieceReader().whole(*said);
  return whole ? *whole : nullptr;
}

Result<Document> Store::documentOf(const Row& row, const nlohmann::json& state, const StepBefore& before,
                                   size_t samples) {
  auto document = documentFromState(state, samples, row.store->format_, row.store->pieceReader());
  if (!document) return Error{document.error().what, path_.string()};
  for (const auto& [number, own] :
       {std::pair{kMaskNumber, &Document::guard}, {kDoubtNumber, &Document::doubt}}) {
    auto& now = (*document).*own;
    if (!now) continue;
    if (before.document && before.document->*own && (before.document->*own)->size() == samples)
      now = before.document->*own;
    const Outcome ok = row.store->loadField<1>(row, {kGuardId, number}, *now);
    if (!ok) return ok.error();
  }
  if (const Outcome ok = row.store->loadPictures(*document); !ok) return ok.error();
  Outcome ok = Done{};
  const auto load = [&](LayerPointer& pointer, const LayerPointer& ground, const nlohmann::json* said,
                        const nlohmann::json* saidOfGround) {
    if (!ok) return;
    // steps share the layers they leave alone, as they did when they were done; what the file says of them is
    // compared sooner than what they are
    if (ground && !hasNewPaint(row, *pointer, *ground, samples) &&
        (said && saidOfGround ? *said == *saidOfGround : layerState(*ground) == layerState(*pointer))) {
      pointer = ground;
      return;
    }
    auto layer = layerFrom(row, *pointer, ground, samples);
    if (layer)
      pointer = *layer;
    else
      ok = layer.error();
  };
  const Document* last = before.document;
  const nlohmann::json* saidBefore = before.store == row.store ? before.state : nullptr;
  for (size_t i = 0; i < document->layers.size(); ++i) {
    LayerPointer& pointer = document->layers[i];
    const size_t at = last ? placeOf(*last, pointer->id) : 0;
    load(pointer, last ? layerOf(*last, pointer->id) : nullptr, entryOf(&state, "layers", i),
         entryOf(saidBefore, "layers", at));
  }
  for (size_t k = 0; k < document->checkpoints.size(); ++k) {
    Checkpoint& c = document->checkpoints[k];
    const size_t at = last ? placeOfCheckpoint(*last, c.id) : 0;
    const bool kept =
        last && at < last->checkpoints.size() && last->checkpoints[at].layers.size() == c.layers.size();
    const nlohmann::json* now = kept ? row.store->saidOfCheckpoint(&state, k) : nullptr;
    const nlohmann::json* then = kept ? row.store->saidOfCheckpoint(saidBefore, at) : nullptr;
    for (size_t i = 0; i < c.layers.size(); ++i) {
      const LayerPointer ground = groundOf(*document, last, c, i);
      const bool same = kept && last->checkpoints[at].layers[i] == ground;
      load(c.layers[i], ground, same ? entryOf(now, "layers", i) : nullptr,
           same ? entryOf(then, "layers", i) : nullptr);
    }
  }
  if (!ok) return ok.error();
  return document;
}

// The layer with its chunks: those it had before, and what the step changed.
Result<LayerPointer> Store::layerFrom(const Row& row, Layer layer, const LayerPointer& before,
                                      size_t samples) {
  Outcome ok = Done{};
  if (layer.source->fields()) {
    const ChannelFields* from = before ? before->source->fields() : nullptr;
    ChannelFields fields = from && from->size() == samples ? *from : ChannelFields(samples);
    eachChannel([&](auto c) {
      constexpr int kPlanes = factsOf(c()).planes();
      if (ok) ok = row.store->loadField<kPlanes>(row, {layer.id, factsOf(c()).field}, fields.get<c()>());
    });
    layer.source = paintedSource(std::move(fields));
  }
  if (ok && layer.mask) {
    const bool known = before && before->mask && before->mask->size() == samples;
    ScalarField field = known ? *before->mask : openMask(samples);
    ok = row.store->loadField<1>(row, {layer.id, kMaskNumber}, field);
    layer.mask = std::move(field);
  }
  if (!ok) return ok.error();
  return LayerPointer(std::make_shared<Layer>(std::move(layer)));
}

namespace {

// Looking which chunks nobody holds any more is worth so many bytes.
constexpr size_t kLeastFreed = 64 << 20;

// Lets the oldest steps go while all take more than the budget, as History does, but never the one that is
// shown. Returns the bytes given back.
size_t keptToBudget(Opened& opened, size_t& bytes, size_t budget, size_t beforeShown) {
  size_t drop = 0, freed = 0;
  while (bytes - freed > budget && drop < beforeShown && drop + 2 < opened.steps.size()) {
    const Step& oldest = *opened.steps[drop];
    if (!oldest.given.empty()) opened.forgotten.push_back(oldest.given);
    freed += opened.steps[++drop]->bytes;
  }
  opened.steps.erase(opened.steps.begin(), opened.steps.begin() + static_cast<std::ptrdiff_t>(drop));
  bytes -= freed;
  return freed;
}

}  // namespace

Result<Opened> Store::assemble(Parts& parts, const Progress& progress) {
  if (parts.order.empty()) return Error{"holds no step of the work", path_.string()};
  std::map<SurfaceState, SurfaceMapsPointer> surfaces;
  std::set<const SurfaceMaps*> mapsTried;
  // all steps of a document have the same; those of older formats do not say it
  float reliefStep = 0;
  for (const auto& [id, row] : parts.rows) {
    if (reliefStep > 0) break;
    const auto said = reliefStepOfState(parsedOrNull(row.state));
    if (!said) return damaged("a step of the history " + said.error().what);
    if (*said > 0) reliefStep = *said;
  }
  const auto shown = static_cast<size_t>(std::ranges::find(parts.order, parts.current) - parts.order.begin());
  Opened out;
  nlohmann::json said;
  StepBefore last{nullptr, &said, nullptr};
  size_t bytes = 0, freed = 0;
  for (size_t i = 0; i < parts.order.size(); ++i) {
    const auto row = parts.rows.find(parts.order[i]);
    if (row == parts.rows.end())
      return Error{fmt::format("step {} of the history is missing", parts.order[i]), path_.string()};
    nlohmann::json state = parsedOrNull(row->second.state);
    const auto surface = surfaceOfState(state);
    if (!surface) return damaged("a step of the history " + surface.error().what);
    auto& maps = surfaces[*surface];
    if (!maps) {
      const auto sculpt = sculptOf(surface->shape, parts);
      if (!sculpt) return sculpt.error();
      const auto labels = labelsOf(*surface, *row->second.store, parts);
      if (!labels) return labels.error();
      if (*labels)
        if (const Outcome sound = checked(**labels, **sculpt); !sound) return damaged(sound.error().what);
      auto built = surfaceAfter(**sculpt, *surface, labels->get(),
                                [&](float f) { return report(progress, 0.2f + 0.6f * f); });
      if (!built) return Error{built.error().what, path_.string()};
      const auto own = reliefStepOfState(state);  // (all of them were looked at)
      maps = std::make_shared<SurfaceMaps>(*built, own && *own > 0 ? *own : reliefStep);
      reliefStep = maps->reliefStep();
    }
    auto document = documentOf(row->second, state, last, maps->size());
    if (!document) return document.error();
    if (const Outcome given = giveSculpt(*document, *row->second.store, parts); !given) return given.error();
    document->maps = maps;
    document->reliefStep = maps->reliefStep();
    if (mapsTried.insert(maps.get()).second) {
      document->surface = maps->sharedSurface();
      giveDoubt(*document);
      Store& kept = *row->second.store;
      Outcome ok = kept.loadMaps(surfaceKey(*document), *maps);
      if (ok) ok = kept.loadGrown(surfaceKey(*document), *maps);
      if (!ok) return ok.error();
    }
    document->surface = maps->sharedSurface();
    if (const Outcome given = giveRest(*document, *row->second.store, parts); !given) return given.error();
    auto step = std::make_shared<Step>();
    step->id = row->first;
    step->name = row->second.name;
    step->time = row->second.time;
    if (const auto given = parts.names.find(row->first); given != parts.names.end())
      step->given = given->second;
    step->bytes = last.document ? newBytes(*last.document, *document) : 0;
    step->document = std::move(*document);
    bytes += step->bytes;
    out.steps.push_back(std::move(step));
    const size_t dropped = i + 1 - out.steps.size();
    freed += keptToBudget(out, bytes, parts.budget, shown > dropped ? shown - dropped : 0);
    // chunks of steps that gave way are known here still
    if (freed > std::max(parts.budget / 8, kLeastFreed)) {
      freed = 0;
      forgetUnshared();
      row->second.store->forgetUnshared();
    }
    if (parts.onlyShown && i == shown) {
      out.steps.erase(out.steps.begin(), out.steps.end() - 1);
      out.forgotten.clear();
      return out;
    }
    said = std::move(state);
    last.document = &out.steps.back()->document;
    last.store = row->second.store;
    const float done = static_cast<float>(i + 1) / static_cast<float>(parts.order.size());
    if (!report(progress, 0.8f + 0.2f * done)) return cancelledError();
  }
  out.current = shown - (parts.order.size() - out.steps.size());
  return out;
}

}  // namespace juvenor
