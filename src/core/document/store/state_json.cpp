#include "core/document/store/state_json.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/color/color_json.h"
#include "core/document/store/state_shown.h"
#include "core/document/surface_state.h"
#include "core/layers/nesting.h"

namespace juvenor {

using nlohmann::json;

namespace {

json toJson(const ChannelStrengths& strengths) {
  json out = json::object();
  for (size_t c = 0; c < kChannelCount; ++c) out[kChannels[c].key] = strengths.value[c];
  return out;
}

Result<ChannelStrengths> strengthsFrom(const json& j) {
  auto out = ChannelStrengths::all(1);
  JsonFields fields(j);
  for (size_t c = 0; c < kChannelCount; ++c)
    fields.number(kChannels[c].key, out.value[c], kChannels[c].leastStrength, 1);
  if (const Outcome ok = fields.done(); !ok) return ok.error();
  return out;
}

Outcome readModes(const json& said, std::array<ChannelMode, kChannelCount>& out) {
  JsonFields fields(said);
  std::array<std::string, kChannelCount> keys;
  for (size_t c = 0; c < kChannelCount; ++c) fields.text(kChannels[c].key, keys[c]);
  if (const Outcome ok = fields.done(); !ok) return ok;
  for (size_t c = 0; c < kChannelCount; ++c) {
    if (keys[c].empty()) continue;
    const auto mode = channelModeFromKey(keys[c]);
    if (!mode || !hasMode(kChannels[c].rule, *mode))
      return Error{fmt::format("know no '{}' of {}", keys[c], kChannels[c].key)};
    out[c] = *mode;
  }
  return Done{};
}

json checkpointState(const Checkpoint& c) {
  json layers = json::array();
  for (const LayerPointer& l : c.layers) layers.push_back(layerState(*l));
  return {{"id", c.id},       {"name", c.name}, {"time", c.time},
          {"layers", layers}, {"of", c.of},     {"bare", toJson(c.bare)}};
}

}  // namespace

json layerState(const Layer& l) {
  json out{{"id", l.id},
           {"name", l.name},
           {"stratum", stratumKey(l.stratum)},
           {"kind", l.source->kind().key},
           {"parameters", l.source->parameters()},
           {"blend", blendModeKey(l.blend)},
           {"opacity", l.opacity},
           {"strengths", toJson(l.strengths)},
           {"visible", l.visible},
           {"locked", l.locked},
           {"mask", l.mask.has_value()},
           {"maps", toJson(l.terms)}};
  for (size_t c = 0; c < kChannelCount; ++c)
    if (l.modes[c] != ChannelMode::Usual) out["modes"][kChannels[c].key] = channelModeKey(l.modes[c]);
  if (!l.steps.empty()) out["mask-steps"] = toJson(l.steps);
  if (l.group != 0) out["group"] = l.group;
  if (l.clipped) out["clipped"] = true;
  if (l.maskFrom != 0) out["mask-from"] = l.maskFrom;
  if (l.maskOff) out["mask-off"] = true;
  if (l.keepsCover) out["keeps-cover"] = true;
  if (l.folded) out["folded"] = true;
  return out;
}

json stateOf(const Document& d) {
  json layers = json::array();
  for (const LayerPointer& l : d.layers) layers.push_back(layerState(*l));
  json landmarks = json::array(), board = json::array();
  for (const Landmark& m : d.landmarks)
    landmarks.push_back({{"key", m.key}, {"position", {m.position.x(), m.position.y(), m.position.z()}}});
  for (const BoardPicture& b : d.board)
    board.push_back({{"id", b.id},
                     {"name", b.name},
                     {"data", b.fingerprint},
                     {"center", {b.centerX, b.centerY}},
                     {"nearer", b.nearer}});
  json slides = json::array();
  for (const Slide& s : d.slides) slides.push_back(toJson(s));
  json checkpoints = json::array();
  for (const Checkpoint& c : d.checkpoints) checkpoints.push_back(checkpointState(c));
  json wells = json::array();
  for (const EncodedColor& c : d.wells) wells.push_back(toJson(c));
  json out{{"layers", layers},
           {"active", d.activeLayer},
           {"next", d.nextLayer},
           {"bare", toJson(d.bare)},
           {"wells", wells},
           {"hidden", d.hiddenParts},
           {"strokes", d.strokeCount},
           {"refinements", toJson(d.refinements)},
           {"placement", toJson(d.placement)},
           {"guard", d.guard.has_value()},
           {"landmarks", landmarks},
           {"board", board},
           {"next-picture", d.nextPicture},
           {"slides", slides},
           {"next-slide", d.nextSlide},
           {"checkpoints", checkpoints},
           {"next-checkpoint", d.nextCheckpoint}};
  if (d.mirror != MirrorPlane{})
    out["mirror"] = {{"normal", {d.mirror.normal.x(), d.mirror.normal.y(), d.mirror.normal.z()}},
                     {"offset", d.mirror.offset}};
  if (d.doubt) out["doubt"] = true;
  if (d.shape) out["shape"] = d.shape;
  if (d.reliefStep > 0) out["relief-step"] = d.reliefStep;
  if (d.rest.any()) out["rest"] = d.rest.fingerprint;
  if (d.parts.any()) out["parts"] = {{"data", d.parts.fingerprint}, {"names", d.parts.names}};
  putShown(d, out);
  for (const MadeUvs& uvs : d.uvs) out["uvs"].push_back({{"name", uvs.name}, {"data", uvs.fingerprint}});
  return out;
}

Result<float> reliefStepOfState(const json& state) {
  if (!state.is_object() || !state.contains("relief-step")) return 0.f;
  const auto step = numberFromJson(state["relief-step"]);
  if (!step || !(*step > 0)) return Error{"needs a number above 0 as \"relief-step\""};
  return *step;
}

// Formats 1 and 2 called a mask from maps a recipe, and its melting a blur.
json broughtUpToDate(json state, int format) {
  if (format >= 3) return state;
  const auto renamed = [](json& j, const char* before, const char* now) {
    if (!j.is_object() || !j.contains(before)) return;
    j[now] = std::move(j[before]);
    j.erase(before);
  };
  const auto melted = [&](json& maps) {
    if (!maps.is_array()) return;
    for (json& term : maps) renamed(term, "blur", "melt");
  };
  if (!state.is_object() || !state.contains("layers") || !state["layers"].is_array()) return state;
  for (json& layer : state["layers"]) {
    renamed(layer, "recipe", "maps");
    if (!layer.is_object()) continue;
    if (layer.contains("maps")) melted(layer["maps"]);
    if (layer.contains("parameters") && layer["parameters"].is_object() &&
        layer["parameters"].contains("maps"))
      melted(layer["parameters"]["maps"]);
  }
  return state;
}

Result<LayerPointer> layerFromState(const json& j, size_t samples) {
  Layer layer;
  std::string stratum, kind, blend;
  bool mask = false;
  const json *parameters = nullptr, *maps = nullptr, *strengths = nullptr, *modes = nullptr, *steps = nullptr;
  const Outcome ok = JsonFields(j)
                         .whole("id", layer.id)
                         .text("name", layer.name)
                         .text("stratum", stratum)
                         .text("kind", kind)
                         .any("parameters", parameters)
                         .text("blend", blend)
                         .number("opacity", layer.opacity, 0, 1)
                         .flag("visible", layer.visible)
                         .flag("locked", layer.locked)
                         .flag("mask", mask)
                         .any("maps", maps)
                         .any("strengths", strengths)
                         .any("modes", modes)
                         .any("mask-steps", steps)
                         .whole("group", layer.group)
                         .flag("clipped", layer.clipped)
                         .whole("mask-from", layer.maskFrom)
                         .flag("mask-off", layer.maskOff)
                         .flag("keeps-cover", layer.keepsCover)
                         .flag("folded", layer.folded)
                         .needs({"id", "name", "stratum", "kind", "parameters", "blend", "opacity", "visible",
                                 "locked", "mask"})
                         .done();
  const auto wrong = [&](const std::string& what) {
    return Error{fmt::format("layer '{}' {}", layer.name, what)};
  };
  if (!ok) return wrong(ok.error().what);
  const auto knownStratum = stratumFromKey(stratum);
  const auto knownBlend = blendModeFromKey(blend);
  if (!knownStratum || !knownBlend) return wrong("has an unknown stratum or blend mode");
  if (layer.id == 0) return wrong("has no number of its own");
  auto source = makeSource(kind, *parameters, samples);
  if (!source) return wrong("is not understood: " + source.error().what);
  layer.stratum = *knownStratum;
  layer.blend = *knownBlend;
  layer.source = *source;
  if (mask) layer.mask = openMask(samples);
  if (maps) {
    auto terms = maskTermsFrom(*maps);
    if (!terms) return wrong("is not understood: " + terms.error().what);
    layer.terms = std::move(*terms);
  }
  if (steps) {
    auto read = maskStepsFrom(*steps);
    if (!read) return wrong("is not understood: " + read.error().what);
    layer.steps = std::move(*read);
  }
  if (modes)
    if (const Outcome read = readModes(*modes, layer.modes); !read)
      return wrong("its modes " + read.error().what);
  if (strengths) {
    const auto read = strengthsFrom(*strengths);
    if (!read) return wrong("its strengths " + read.error().what);
    layer.strengths = *read;
  }
  return LayerPointer(std::make_shared<Layer>(std::move(layer)));
}

namespace {

// Bottom first; `ids` holds the numbers of all layers so far.
Outcome readStack(const json& layers, const PieceReader& pieces, size_t samples, std::set<uint32_t>& ids,
                  LayerStack& out) {
  for (const json& j : layers) {
    auto layer = pieces.layer(j, samples);
    if (!layer) return layer.error();
    if (!ids.insert((*layer)->id).second)
      return Error{fmt::format("two layers have the number {}", (*layer)->id)};
    if (!out.empty() && (*layer)->stratum < out.back()->stratum)
      return Error{fmt::format("layer '{}' lies in a wrong stratum", (*layer)->name)};
    out.push_back(std::move(*layer));
  }
  return wellNested(out);
}

Outcome readCheckpoint(const json& said, const PieceReader& pieces, size_t samples, std::set<uint32_t>& ids,
                       Document& d) {
  const auto whole = pieces.whole(said);
  if (!whole) return whole.error();
  Checkpoint c;
  const json *layers = nullptr, *of = nullptr;
  const json* time = nullptr;
  const Outcome ok = JsonFields(**whole)
                         .whole("id", c.id)
                         .text("name", c.name)
                         .any("time", time)
                         .list("layers", layers)
                         .list("of", of)
                         .value("bare", c.bare, kJsonColor)
                         .needs({"id", "name", "layers", "of", "bare"})
                         .done();
  if (!ok) return Error{"a checkpoint " + ok.error().what};
  if (time && !time->is_number_integer()) return Error{"a checkpoint has a time that is no whole number"};
  if (time) c.time = saneTime(time->get<int64_t>());
  if (const Outcome read = readStack(*layers, pieces, samples, ids, c.layers); !read) return read;
  std::set<uint32_t> originals;
  for (const json& o : *of) {
    if (!o.is_number_unsigned() || o.get<uint64_t>() == 0 || o.get<uint64_t>() >= kNone ||
        !originals.insert(o.get<uint32_t>()).second)
      return Error{"a checkpoint does not say which layers it was kept of"};
    c.of.push_back(o.get<uint32_t>());
  }
  if (c.of.size() != c.layers.size() || (!originals.empty() && *originals.rbegin() >= d.nextLayer))
    return Error{"a checkpoint does not say which layers it was kept of"};
  if (c.id >= d.nextCheckpoint ||
      std::ranges::find(d.checkpoints, c.id, &Checkpoint::id) != d.checkpoints.end())
    return Error{"two checkpoints have one number"};
  d.checkpoints.push_back(std::move(c));
  return Done{};
}

Outcome readLayers(const json& layers, const json& checkpoints, const PieceReader& pieces, size_t samples,
                   Document& d) {
  std::set<uint32_t> ids;
  Outcome ok = readStack(layers, pieces, samples, ids, d.layers);
  if (ok && d.activeLayer != 0 && !ids.contains(d.activeLayer)) return Error{"the active layer is not there"};
  for (const json& j : checkpoints)
    if (ok) ok = readCheckpoint(j, pieces, samples, ids, d);
  if (ok && !ids.empty() && d.nextLayer <= *ids.rbegin())
    return Error{"the next layer's number is taken already"};
  return ok;
}

Outcome readMirror(const json& mirror, Document& d) {
  Vec3 normal = Vec3::Zero();
  const Outcome ok =
      JsonFields(mirror).vector("normal", normal).number("offset", d.mirror.offset, -1e9f, 1e9f).done();
  if (!ok) return Error{"its mirror plane " + ok.error().what};
  if (!(std::abs(normal.norm() - 1) < 1e-3f))
    return Error{"its mirror plane has a normal that is not one long"};
  d.mirror.normal = normal;
  return Done{};
}

Outcome readLandmarks(const json& landmarks, Document& d) {
  for (const json& j : landmarks) {
    Landmark m;
    const Outcome ok =
        JsonFields(j).text("key", m.key).vector("position", m.position).needs({"key", "position"}).done();
    if (!ok) return Error{"a landmark " + ok.error().what};
    if (!landmarkFacts(m.key)) return Error{fmt::format("there is no landmark '{}'", m.key)};
    if (std::ranges::find(d.landmarks, m.key, &Landmark::key) != d.landmarks.end())
      return Error{fmt::format("the landmark '{}' is there twice", m.key)};
    d.landmarks.push_back(std::move(m));
  }
  return Done{};
}

Outcome readBoard(const json& board, Document& d) {
  for (const json& j : board) {
    BoardPicture b;
    const json* center = nullptr;
    const Outcome ok = JsonFields(j)
                           .whole("id", b.id)
                           .text("name", b.name)
                           .whole("data", b.fingerprint)
                           .list("center", center)
                           .number("nearer", b.nearer, 0.01f, 1000)
                           .needs({"id", "name", "data", "center", "nearer"})
                           .done();
    if (!ok) return Error{"a picture of the board " + ok.error().what};
    const auto x = center->size() == 2 ? numberFromJson((*center)[0]) : std::nullopt,
               y = center->size() == 2 ? numberFromJson((*center)[1]) : std::nullopt;
    if (!x || !y) return Error{"a picture of the board has no middle"};
    b.centerX = std::clamp(*x, 0.f, 1.f);
    b.centerY = std::clamp(*y, 0.f, 1.f);
    if (b.id >= d.nextPicture || std::ranges::find(d.board, b.id, &BoardPicture::id) != d.board.end())
      return Error{"two pictures of the board have one number"};
    d.board.push_back(std::move(b));
  }
  return Done{};
}

Outcome readSlides(const json& slides, Document& d) {
  for (const json& j : slides) {
    auto slide = slideFromJson(j);
    if (!slide) return slide.error();
    if (slide->id >= d.nextSlide || std::ranges::find(d.slides, slide->id, &Slide::id) != d.slides.end())
      return Error{"two slides have one number"};
    d.slides.push_back(std::move(*slide));
  }
  return Done{};
}

Outcome readLists(const json& wells, const json& hidden, Document& d) {
  for (const json& j : wells) {
    const auto color = colorFromJson(j);
    if (!color) return Error{"a well holds no colour"};
    d.wells.push_back(*color);
  }
  for (const json& j : hidden) {
    if (!j.is_number_unsigned() || j.get<uint64_t>() >= kNone) return Error{"a hidden part has no number"};
    d.hiddenParts.insert(j.get<uint32_t>());
  }
  return Done{};
}

Outcome readUvs(const json& uvs, Document& d) {
  for (const json& j : uvs) {
    MadeUvs made;
    const Outcome ok =
        JsonFields(j).text("name", made.name).whole("data", made.fingerprint).needs({"name", "data"}).done();
    if (!ok) return Error{"a UV set " + ok.error().what};
    d.uvs.push_back(std::move(made));
  }
  return Done{};
}

Outcome readParts(const json& parts, Document& d) {
  const json* names = nullptr;
  const Outcome ok = JsonFields(parts)
                         .whole("data", d.parts.fingerprint)
                         .list("names", names)
                         .needs({"data", "names"})
                         .done();
  if (!ok) return Error{"its parts " + ok.error().what};
  if (d.parts.fingerprint == 0) return Error{"its parts have no number"};
  for (const json& name : *names) {
    if (!name.is_string()) return Error{"a part has no name"};
    d.parts.names.push_back(name.get<std::string>());
  }
  return Done{};
}

Result<Document> currentFrom(const json& state, size_t samples, const PieceReader& pieces) {
  Document d;
  const json none = json::array();
  const json *layers, *wells, *hidden, *refinements, *placement,
      *landmarks = &none, *board = &none, *slides = &none, *checkpoints = &none, *uvs = &none,
      *cameras = &none, *variants = &none;
  bool guard = false, doubt = false;
  const json *reliefStep = nullptr, *mirror = nullptr, *parts = nullptr;
  Outcome ok = JsonFields(state)
                   .list("layers", layers)
                   .whole("active", d.activeLayer)
                   .whole("next", d.nextLayer)
                   .value("bare", d.bare, kJsonColor)
                   .list("wells", wells)
                   .list("hidden", hidden)
                   .whole("strokes", d.strokeCount)
                   .any("relief-step", reliefStep)
                   .list("refinements", refinements)
                   .any("placement", placement)
                   .flag("guard", guard)
                   .flag("doubt", doubt)
                   .whole("shape", d.shape)
                   .any("mirror", mirror)
                   .any("parts", parts)
                   .whole("rest", d.rest.fingerprint)
                   .list("landmarks", landmarks)
                   .list("board", board)
                   .whole("next-picture", d.nextPicture)
                   .list("slides", slides)
                   .whole("next-slide", d.nextSlide)
                   .list("checkpoints", checkpoints)
                   .whole("next-checkpoint", d.nextCheckpoint)
                   .list("uvs", uvs)
                   .list("cameras", cameras)
                   .whole("next-camera", d.nextCamera)
                   .list("variants", variants)
                   .whole("next-variant", d.nextVariant)
                   .needs({"layers", "active", "next", "bare", "wells", "hidden", "strokes"})
                   .done();
  if (!ok) return ok.error();
  auto surface = surfaceOfState(state);
  if (!surface) return surface.error();
  d.refinements = std::move(surface->refinements);
  d.placement = surface->placement;
  const auto step = reliefStepOfState(state);
  if (!step) return step.error();
  d.reliefStep = *step;
  if (guard) d.guard = openMask(samples);
  if (doubt) d.doubt = closedMask(samples);
  ok = readLayers(*layers, checkpoints ? *checkpoints : none, pieces, samples, d);
  if (ok) ok = readLists(*wells, *hidden, d);
  if (ok && landmarks) ok = readLandmarks(*landmarks, d);
  if (ok && mirror) ok = readMirror(*mirror, d);
  if (ok && board) ok = readBoard(*board, d);
  if (ok && slides) ok = readSlides(*slides, d);
  if (ok && uvs) ok = readUvs(*uvs, d);
  if (ok && cameras) ok = readCameras(*cameras, d);
  if (ok && variants) ok = readVariants(*variants, d);
  if (ok && parts) ok = readParts(*parts, d);
  if (!ok) return ok.error();
  return d;
}

}  // namespace

PieceReader wholePieces() {
  return {[](const json& said) -> Result<const json*> { return &said; }, layerFromState};
}

Result<Document> documentFromState(const json& state, size_t samples, int format, const PieceReader& pieces) {
  // copied only where there is something to bring up to date
  auto document = format < 3 ? currentFrom(broughtUpToDate(state, format), samples, pieces)
                             : currentFrom(state, samples, pieces);
  if (!document) return Error{"a step of the history is damaged: " + document.error().what};
  return document;
}

}  // namespace juvenor
