#include "batch/script.h"

#include <fmt/format.h>

#include "batch/script_carry.h"
#include "batch/script_eyes.h"
#include "batch/script_graft.h"
#include "batch/script_groups.h"
#include "batch/script_lookup.h"
#include "batch/script_maps.h"
#include "batch/script_moments.h"
#include "batch/script_parts.h"
#include "batch/script_show.h"
#include "batch/script_skin.h"
#include "batch/script_slide.h"
#include "batch/script_stroke.h"
#include "core/color/color_json.h"
#include "core/document/edits/edit_groups.h"
#include "core/document/edits/edits.h"
#include "core/document/store/state_json.h"
#include "core/layers/sources/fill.h"
#include "core/surface/build/refine_where.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

Result<Document> addLayer(const json& step, const Document& d) {
  const std::string key = step.value("kind", "painted");
  const SourceKind* kind = sourceKind(key);
  std::vector<std::string_view> kinds, known{"kind", "name", "stratum"};
  for (const SourceKind* k : sourceKinds()) kinds.push_back(k->key);
  if (!kind) return Error{fmt::format("there is no kind of layer '{}'{}", key, nearestWord(key, kinds))};
  known.insert(known.end(), kind->keys.begin(), kind->keys.end());
  if (const Outcome ok = onlyKnownKeys(step, known); !ok) return ok.error();
  const auto stratum = stratumFromKey(step.value("stratum", std::string(stratumKey(kind->stratum))));
  if (!stratum) return Error{"\"stratum\" is flesh, pigment or surface"};
  auto source = sourceIn(step, *kind, d);
  if (!source) return source.error();
  return withSourceLayer(d, step.value("name", "Paint"), *stratum, std::move(*source));
}

Result<Document> chooseLayer(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  if (!id) return id.error();
  Document out = d;
  out.activeLayer = *id;
  return out;
}

Result<Document> changeLayer(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  if (!id) return id.error();
  LayerChange change;
  if (step.contains("rename")) change.name = step["rename"].get<std::string>();
  if (step.contains("opacity")) change.opacity = step["opacity"].get<float>();
  if (step.contains("visible")) change.visible = step["visible"].get<bool>();
  if (step.contains("locked")) change.locked = step["locked"].get<bool>();
  if (step.contains("blend")) {
    change.blend = blendModeFromKey(step["blend"].get<std::string>());
    if (!change.blend) return Error{fmt::format("there is no blend mode {}", textOf(step["blend"]))};
  }
  const auto keys = channelKeys();
  if (std::ranges::any_of(keys, [&](std::string_view key) { return step.contains(key); })) {
    const auto said = valuesIn(step);
    const auto now = fillValues(*layerOf(d, *id)->source);
    if (!said) return said.error();
    change.values = now.value_or(ChannelValues{});
    if (said->color) change.values->color = said->color;
    for (size_t c = 0; c < kChannelCount; ++c)
      if (said->number[c]) change.values->number[c] = said->number[c];
  }
  if (step.contains("strengths"))
    for (const auto& [key, value] : step["strengths"].items()) {
      const auto channel = channelFromKey(key);
      if (!channel)
        return Error{fmt::format("\"strengths\" has no channel \"{}\"{}", key, nearestWord(key, keys))};
      change.strength[static_cast<size_t>(*channel)] = value.get<float>();
    }
  if (step.contains("mask off")) change.maskOff = step["mask off"].get<bool>();
  if (step.contains("keeps cover")) change.keepsCover = step["keeps cover"].get<bool>();
  if (step.contains("modes"))
    for (const auto& [key, value] : step["modes"].items()) {
      const auto channel = channelFromKey(key);
      const auto mode = channelModeFromKey(value.get<std::string>());
      if (!channel || !mode) return Error{fmt::format("\"modes\" has no {} of \"{}\"", textOf(value), key)};
      change.mode[static_cast<size_t>(*channel)] = *mode;
    }
  if (step.contains("passes")) change.passes = step["passes"].get<bool>();
  auto changed = withLayerChanged(d, *id, change);
  if (!changed || !step.contains("clipped")) return changed;
  return withClipped(*changed, *id, step["clipped"].get<bool>());
}

template <auto Edit>
Result<Document> onLayer(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  if (!id) return id.error();
  return Edit(d, *id);
}

Result<Document> moveLayer(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  if (!id) return id.error();
  const auto stratum =
      stratumFromKey(step.value("stratum", std::string(stratumKey(layerOf(d, *id)->stratum))));
  if (!stratum) return Error{"\"stratum\" is flesh, pigment or surface"};
  // below the lowest is the lowest place, above the highest the highest
  constexpr double kMost = 1e9;
  StackPlace place{*stratum, 0, static_cast<size_t>(std::clamp(step.value("above", kMost), 0.0, kMost))};
  if (step.contains("into")) {
    const auto into = layerFor(step, d, "into");
    if (!into) return into.error();
    place.group = *into;
  }
  return withLayersMoved(d, {{*id}}, place);
}

Result<Document> fill(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  const auto part = partIn(step, d);
  const auto values = valuesIn(step);
  if (!id) return id.error();
  if (!part) return part.error();
  if (!values) return values.error();
  const float strength = step.value("strength", 1.f);
  if (!step.contains("through")) return withFilled(d, *id, *values, strength, *part);
  if (*part != kNone) return Error{"a fill goes into a \"part\" or \"through\" a mask, not both"};
  const auto through = layerFor(step, d, "through");
  return through ? withFilledThrough(d, *id, *values, strength, *through) : Result<Document>(through.error());
}

Result<Document> fillMask(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  const auto part = partIn(step, d);
  if (!id) return id.error();
  if (!part) return part.error();
  return withMaskFilled(d, *id, step.value("value", 0.f), step.value("strength", 1.f), *part);
}

template <auto Laid>
Result<Document> laid(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  const auto part = partIn(step, d);
  if (!id) return id.error();
  if (!part) return part.error();
  return Laid(step, d, *id, *part);
}

Result<Document> refine(const json& step, const Document& d) {
  Refinement refinement;
  std::string shape = "flat";
  json said = step;
  for (const char* key : {"do", "mask of", "part"}) said.erase(key);
  const Outcome ok = JsonFields(said)
                         .number("spacing", refinement.spacing, 0, 1e9f)
                         .text("shape", shape)
                         .number("crease", refinement.crease, 0, 180)
                         .done();
  if (!ok) return ok.error();
  const auto known = refineShapeFromKey(shape);
  if (!known) return Error{"\"shape\" is round or flat"};
  refinement.shape = *known;
  if (step.contains("mask of")) {
    const auto id = layerFor(step, d, "mask of");
    if (!id) return id.error();
    auto where = pointsShownBy(d, *id);
    if (!where) return where.error();
    refinement.where = std::move(*where);
  } else if (step.contains("part")) {
    const auto part = partIn(step, d);
    if (!part) return part.error();
    refinement.where = rangesWhere(d.surface->size(), [&](size_t s) { return d.surface->parts[s] == *part; });
  }
  return withRefinement(d, refinement);
}

Result<Document> place(const json& step, const Document& d) {
  Placement placement = d.placement;
  std::string up(axisKey(placement.up)), front(axisKey(placement.front)), unit;
  float height = 0;
  json said = step;
  said.erase("do");
  const Outcome ok = JsonFields(said)
                         .text("up", up)
                         .text("front", front)
                         .text("unit", unit)
                         .number("height", height, 0, 1e9f)
                         .done();
  if (!ok) return ok.error();
  return withPlacementSaid(d, {up, front, unit, height});
}

Result<Document> parts(const json& step, const Document& d) {
  Document out = d;
  for (const bool hide : {true, false})
    for (const json& name : step.value(hide ? "hide" : "show", json::array())) {
      const auto part = partNamed(name, d);
      if (!part) return part.error();
      if (hide)
        out.hiddenParts.insert(*part);
      else
        out.hiddenParts.erase(*part);
    }
  return out;
}

Result<Document> wells(const json& step, const Document& d) {
  Document out = d;
  out.wells.clear();
  for (const json& j : step.value("colors", json::array())) {
    const auto color = colorFromJson(j);
    if (!color) return Error{fmt::format("{} is no colour", textOf(j))};
    out.wells.push_back(*color);
  }
  return out;
}

// The keys of "add layer" depend on the kind; it looks at them itself.
const ScriptCommand kPlainCommands[] = {
    {"add layer", {}, addLayer},
    {"choose layer", {"layer"}, chooseLayer},
    {"layer",
     {"layer", "rename", "blend", "opacity", "visible", "locked", "modes", "clipped", "passes", "mask off",
      "keeps cover", "strengths"},
     changeLayer,
     false,
     true},
    {"duplicate layer", {"layer"}, onLayer<withDuplicate>},
    {"merge down", {"layer"}, onLayer<withMergedDown>},
    {"delete layer", {"layer"}, onLayer<withoutLayer>},
    {"move layer", {"layer", "stratum", "into", "above"}, moveLayer},
    {"fill mask", {"layer", "part", "value", "strength"}, fillMask},
    {"fill", {"layer", "part", "strength", "through"}, fill, false, true},
    {"stroke",
     {"layer", "part", "ink", "channels", "points", "on mask", "brush", "seed", "paint", "checkpoint"},
     laid<withScriptedStroke>,
     false,
     true},
    {"stamp",
     {"layer", "part", "ink", "channels", "on mask", "brush", "seed", "at", "along"},
     laid<withScriptedStamp>,
     false,
     true},
    {"refine", {"spacing", "shape", "crease", "mask of", "part"}, refine},
    {"place", {"up", "front", "unit", "height"}, place},
    {"parts", {"hide", "show"}, parts},
    {"wells", {"colors"}, wells},
};

}  // namespace

std::vector<std::string_view> keysOf(const ScriptCommand& command) {
  std::vector<std::string_view> out(command.keys);
  if (command.channels) std::ranges::copy(channelKeys(), std::back_inserter(out));
  return out;
}

std::vector<const ScriptCommand*> scriptCommands() {
  std::vector<const ScriptCommand*> out;
  for (const ScriptCommand& c : kPlainCommands) out.push_back(&c);
  for (const ScriptCommand& c : skinCommands()) out.push_back(&c);
  for (const ScriptCommand& c : slideCommands()) out.push_back(&c);
  for (const ScriptCommand& c : mapCommands()) out.push_back(&c);
  for (const ScriptCommand& c : carryCommands()) out.push_back(&c);
  for (const ScriptCommand& c : partCommands()) out.push_back(&c);
  for (const ScriptCommand& c : momentCommands()) out.push_back(&c);
  for (const ScriptCommand& c : showCommands()) out.push_back(&c);
  for (const ScriptCommand& c : graftCommands()) out.push_back(&c);
  for (const ScriptCommand& c : groupCommands()) out.push_back(&c);
  for (const ScriptCommand& c : eyeCommands()) out.push_back(&c);
  return out;
}

namespace {

Outcome runStep(const json& step, const std::string& what, History& history) {
  if (what == "undo" || what == "redo") {
    const bool back = what == "undo";
    if (const Outcome ok = onlyKnownKeys(step, {}); !ok) return ok;
    if (back ? !history.canUndo() : !history.canRedo()) return Error{"there is nothing to " + what};
    history.goTo(history.current() + (back ? size_t(-1) : 1));
    return Done{};
  }
  std::vector<std::string_view> known{"undo", "redo"};
  for (const ScriptCommand* c : scriptCommands()) {
    known.push_back(c->key);
    if (c->key != what) continue;
    if (c->run != addLayer)
      if (const Outcome ok = onlyKnownKeys(step, keysOf(*c)); !ok) return ok;
    auto next = caught([&]() -> Result<Document> {
      try {
        return c->run(step, history.document());
      } catch (const json::exception& e) {
        return Error{fmt::format("holds a value of the wrong kind ({})", e.what())};
      }
    });
    if (!next) return next.error();
    // what could not be opened again is no step: numbers beyond what a document holds
    if (const auto back = documentFromState(parsedOrNull(textOf(stateOf(*next))), next->surface->size());
        !back)
      return Error{"makes what no document can hold: " + back.error().what};
    if (!c->looks) history.push(std::move(*next), what);
    return Done{};
  }
  return Error{"is not known" + nearestWord(what, known)};
}

}  // namespace

Outcome runScript(const json& script, History& history) {
  const json& steps = script.is_object() && script.contains("steps") ? script["steps"] : script;
  if (!steps.is_array()) return Error{"a script is an array of steps, or an object with \"steps\""};
  for (size_t i = 0; i < steps.size(); ++i) {
    const json& step = steps[i];
    const std::string what = step.is_object() && step.contains("do") && step["do"].is_string()
                                 ? step["do"].get<std::string>()
                                 : "";
    Outcome done = Error{"needs \"do\": what to do"};
    if (!what.empty()) done = runStep(step, what, history);
    if (!done)
      return Error{fmt::format("step {} ({}): {}", i + 1, what.empty() ? "?" : what, done.error().message())};
  }
  return Done{};
}

}  // namespace juvenor::batch
