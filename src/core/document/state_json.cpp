#include "core/document/state_json.h"

#include <fmt/format.h>

namespace juvenor {

using nlohmann::json;

json toJson(const EncodedColor& c) {
  return {c.r, c.g, c.b};
}

std::optional<EncodedColor> colorFromJson(const json& j) {
  if (j.is_string()) return fromHex(j.get<std::string>());
  if (!j.is_array() || j.size() != 3) return std::nullopt;
  for (const json& v : j)
    if (!v.is_number()) return std::nullopt;
  return EncodedColor{j[0].get<float>(), j[1].get<float>(), j[2].get<float>()};
}

json stateOf(const Document& d) {
  json layers = json::array();
  for (const LayerPointer& l : d.layers)
    layers.push_back({{"id", l->id},
                      {"name", l->name},
                      {"stratum", stratumKey(l->stratum)},
                      {"kind", l->source->kind()},
                      {"parameters", l->source->parameters()},
                      {"blend", blendModeKey(l->blend)},
                      {"opacity", l->opacity},
                      {"visible", l->visible},
                      {"locked", l->locked},
                      {"mask", l->mask.has_value()},
                      {"recipe", toJson(l->recipe)}});
  json landmarks = json::array(), board = json::array();
  for (const Landmark& m : d.landmarks)
    landmarks.push_back({{"key", m.key}, {"position", {m.position.x(), m.position.y(), m.position.z()}}});
  for (const BoardPicture& b : d.board)
    board.push_back({{"id", b.id},
                     {"name", b.name},
                     {"data", b.fingerprint},
                     {"center", {b.centerX, b.centerY}},
                     {"nearer", b.nearer}});
  json wells = json::array();
  for (const EncodedColor& c : d.wells) wells.push_back(toJson(c));
  return {{"layers", layers},
          {"active", d.activeLayer},
          {"next", d.nextLayer},
          {"bare", toJson(d.bare)},
          {"wells", wells},
          {"hidden", d.hiddenParts},
          {"strokes", d.strokeCount},
          {"refinements", d.refinements},
          {"guard", d.guard.has_value()},
          {"landmarks", landmarks},
          {"board", board},
          {"next-picture", d.nextPicture}};
}

std::vector<Refinement> refinementsOfState(const json& state) {
  std::vector<Refinement> out;
  if (const auto found = state.find("refinements"); found != state.end() && found->is_array())
    for (const json& r : *found)
      if (r.is_number()) out.push_back(r.get<float>());
  return out;
}

namespace {

Result<LayerPointer> layerFrom(const json& j, size_t samples) {
  Layer layer;
  layer.id = j.at("id").get<uint32_t>();
  layer.name = j.at("name").get<std::string>();
  const auto stratum = stratumFromKey(j.at("stratum").get<std::string>());
  const auto blend = blendModeFromKey(j.at("blend").get<std::string>());
  if (!stratum || !blend)
    return Error{fmt::format("layer '{}' has an unknown stratum or blend mode", layer.name)};
  auto source = makeSource(j.at("kind").get<std::string>(), j.at("parameters"), samples);
  if (!source) return Error{fmt::format("layer '{}': {}", layer.name, source.error().what)};
  layer.stratum = *stratum;
  layer.blend = *blend;
  layer.source = *source;
  layer.opacity = std::clamp(j.at("opacity").get<float>(), 0.f, 1.f);
  layer.visible = j.at("visible").get<bool>();
  layer.locked = j.at("locked").get<bool>();
  if (j.at("mask").get<bool>()) layer.mask = openMask(samples);
  if (const auto found = j.find("recipe"); found != j.end()) {
    auto recipe = maskRecipeFrom(*found);
    if (!recipe) return Error{fmt::format("layer '{}': {}", layer.name, recipe.error().what)};
    layer.recipe = std::move(*recipe);
  }
  return LayerPointer(std::make_shared<Layer>(std::move(layer)));
}

// What documents of the first version do not have yet.
void readSince(const json& state, size_t samples, Document& d) {
  if (state.value("guard", false)) d.guard = openMask(samples);
  for (const json& j : state.value("landmarks", json::array())) {
    const auto p = j.at("position").get<std::array<float, 3>>();
    d.landmarks.push_back({j.at("key").get<std::string>(), {p[0], p[1], p[2]}});
  }
  for (const json& j : state.value("board", json::array())) {
    const auto center = j.at("center").get<std::array<float, 2>>();
    d.board.push_back({j.at("id").get<uint32_t>(), j.at("name").get<std::string>(),
                       j.at("data").get<uint64_t>(), nullptr, center[0], center[1],
                       j.at("nearer").get<float>()});
  }
  d.nextPicture = state.value("next-picture", 1u);
}

}  // namespace

Result<Document> documentFromState(const json& state, size_t samples) {
  Document d;
  try {
    for (const json& j : state.at("layers")) {
      auto layer = layerFrom(j, samples);
      if (!layer) return layer.error();
      d.layers.push_back(std::move(*layer));
    }
    d.activeLayer = state.at("active").get<uint32_t>();
    d.nextLayer = state.at("next").get<uint32_t>();
    d.bare = colorFromJson(state.at("bare")).value_or(d.bare);
    for (const json& j : state.at("wells"))
      if (const auto c = colorFromJson(j)) d.wells.push_back(*c);
    d.hiddenParts = state.at("hidden").get<std::set<uint32_t>>();
    d.strokeCount = state.at("strokes").get<uint32_t>();
    d.refinements = refinementsOfState(state);
    readSince(state, samples, d);
  } catch (const json::exception& e) {
    return Error{std::string("a step of the history is damaged (") + e.what() + ")"};
  }
  return d;
}

}  // namespace juvenor
