#include "batch/script_skin.h"

#include <fmt/format.h>

#include "batch/script_lookup.h"
#include "core/color/color_json.h"
#include "core/document/edits/edits.h"
#include "core/layers/filters/adjust.h"
#include "core/layers/sources/patterns.h"
#include "core/surface/build/search.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

// The mask a step works on: a layer's, or the guard when "guard" is true.
Result<uint32_t> maskFor(const json& step, const Document& d) {
  return step.value("guard", false) ? Result<uint32_t>(kGuard) : layerFor(step, d);
}

Result<std::vector<EncodedColor>> colorsIn(const json& step) {
  std::vector<EncodedColor> out;
  for (const json& j : step.value("colors", json::array())) {
    const auto color = colorFromJson(j);
    if (!color) return Error{fmt::format("{} is no colour", textOf(j))};
    out.push_back(*color);
  }
  if (out.empty()) return Error{"needs \"colors\": a list of one at least"};
  return out;
}

Result<Document> addMask(const json& step, const Document& d) {
  const auto id = maskFor(step, d);
  return id ? withMask(d, *id) : id.error();
}

Result<Document> removeMask(const json& step, const Document& d) {
  const auto id = maskFor(step, d);
  return id ? withoutMask(d, *id) : id.error();
}

Result<Document> invertMask(const json& step, const Document& d) {
  const auto id = maskFor(step, d);
  return id ? withInvertedMask(d, *id) : id.error();
}

Result<Document> meltMask(const json& step, const Document& d) {
  const auto id = maskFor(step, d);
  return id ? withMeltedMask(d, *id, step.at("melt").get<float>()) : id.error();
}

Result<Document> growMask(const json& step, const Document& d) {
  const auto id = maskFor(step, d);
  return id ? withGrownMask(d, *id, step.at("way").get<float>()) : id.error();
}

Result<Document> maskFromParts(const json& step, const Document& d) {
  const auto id = maskFor(step, d);
  if (!id) return id.error();
  std::set<uint32_t> parts;
  for (const json& name : step.at("parts")) {
    const auto part = partNamed(name, d);
    if (!part) return part.error();
    parts.insert(*part);
  }
  return withMaskFromParts(d, *id, parts);
}

Result<Document> maskFromColors(const json& step, const Document& d) {
  const auto id = maskFor(step, d);
  const auto colors = colorsIn(step);
  if (!id) return id.error();
  if (!colors) return colors.error();
  return withMaskFromColors(d, *id, *colors, step.value("tolerance", 8.f), step.value("fade", 4.f));
}

Result<Document> maskFromBrightness(const json& step, const Document& d) {
  const auto id = maskFor(step, d);
  if (!id) return id.error();
  MaskTerm term;
  term.low = step.value("low", term.low);
  term.high = step.value("high", term.high);
  term.fade = step.value("fade", term.fade);
  term.contrast = step.value("contrast", term.contrast);
  term.invert = step.value("invert", term.invert);
  return withMaskFromBrightness(d, *id, term);
}

// The areas of the layer "from", or the one with a number, from 1 on.
Result<Document> maskFromAreas(const json& step, const Document& d) {
  const auto id = maskFor(step, d);
  if (!id) return id.error();
  const auto from = layerFor(step, d, "from");
  if (!from) return from.error();
  std::optional<size_t> only;
  if (step.contains("area")) {
    if (!step["area"].is_number_unsigned() || step["area"] == 0)
      return Error{"\"area\" is a number from 1 on"};
    only = step["area"].get<size_t>() - 1;
  }
  return withMaskFromAreas(d, *id, *from, only);
}

Result<Document> maskFromMaps(const json& step, const Document& d) {
  const auto id = maskFor(step, d);
  auto terms = maskTermsFrom(step.value("maps", json()));
  if (!id) return id.error();
  if (!terms) return terms.error();
  // as terms it stays live; laid down it can be painted
  if (step.value("paint", false) || *id == kGuard) return withMaskFromMaps(d, *id, *terms);
  return withMaskTerms(d, *id, std::move(*terms));
}

// A kind's key as an argument of a template.
template <size_t N>
struct Key {
  char text[N];
  constexpr Key(const char (&from)[N]) { std::copy_n(from, N, text); }
};

template <Key Kind>
Result<Document> changedSource(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  if (!id) return id.error();
  auto source = sourceIn(step, *sourceKind(Kind.text), d);
  if (!source) return source.error();
  return withSource(d, *id, std::move(*source));
}

Result<Document> landmarks(const json& step, const Document& d) {
  Document out = d;
  for (const auto& [key, place] : step.at("places").items()) {
    const auto p = place.get<std::array<float, 3>>();
    auto next = withLandmark(out, key, {p[0], p[1], p[2]});
    if (!next) return next;
    out = std::move(*next);
  }
  return out;
}

Result<Document> usualZonesOf(const json&, const Document& d) {
  return withUsualZones(d);
}

Result<Document> fillParts(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  if (!id) return id.error();
  std::map<uint32_t, ChannelValues> values;
  for (const auto& [name, said] : step.at("tones").items()) {
    const auto part = partNamed(name, d);
    const auto tone = valuesOf(said);
    if (!part) return part.error();
    if (!tone) return tone.error();
    values[*part] = *tone;
  }
  return withPartsFilled(d, *id, values, step.value("strength", 1.f));
}

Result<Document> picture(const json& step, const Document& d) {
  const std::filesystem::path file = step.at("file").get<std::string>();
  auto data = readPicture(file);
  if (!data) return data.error();
  return withPicture(d, step.value("name", file.stem().string()), std::move(*data));
}

Result<std::vector<Vec3>> placesIn(const json& step) {
  std::vector<Vec3> out;
  for (const json& place : step.value("places", json::array())) {
    const auto p = vectorFromJson(place);
    if (!p) return Error{"each of its \"places\" is a list of three numbers"};
    out.push_back(*p);
  }
  if (out.empty()) return Error{"it needs \"places\""};
  return out;
}

std::array<bool, 3> mirrorIn(const json& step) {
  std::array<bool, 3> out{};
  for (const char axis : step.value("mirror", std::string()))
    if (axis >= 'x' && axis <= 'z') out[static_cast<size_t>(axis - 'x')] = true;
  return out;
}

// A stroke over a pattern: one place at least.
Result<SkinStroke> strokeIn(const json& step, const Document& d) {
  const auto places = placesIn(step);
  if (!places) return places.error();
  const float diagonal = d.surface->bounds.diagonal();
  const auto nearest = nearestSample(*d.surface, places->front(), 0.05f * diagonal);
  if (!nearest) return Error{"there is no skin at the first of its \"places\""};
  SkinStroke out{*places, d.surface->parts[*nearest], step.value("width", 0.04f * diagonal),
                 std::clamp(step.value("strength", 1.f), -1.f, 1.f),
                 step.value("pressures", std::vector<float>())};
  for (float& pressure : out.pressures) pressure = std::clamp(pressure, 0.f, 1.f);
  if (!out.pressures.empty() && out.pressures.size() != out.places.size())
    return Error{"it needs as many \"pressures\" as \"places\""};
  return out;
}

// Two places and more are a stroke, one is a pin.
Result<Document> comb(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  const auto stroke = strokeIn(step, d);
  if (!id) return id.error();
  if (!stroke) return stroke.error();
  if (stroke->places.size() == 1)
    return withPin(d, *id, stroke->places.front(), stroke->part, stroke->width, mirrorIn(step));
  return withComb(d, *id, *stroke, mirrorIn(step));
}

using HandEdit = Result<Document> (*)(const Document&, uint32_t, const SkinStroke&,
                                      const std::array<bool, 3>&);

template <HandEdit edit>
Result<Document> byHand(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  const auto stroke = strokeIn(step, d);
  if (!id) return id.error();
  if (!stroke) return stroke.error();
  return edit(d, *id, *stroke, mirrorIn(step));
}

Result<Document> touchScales(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  if (!id) return id.error();
  json touched = step;
  for (const char* key : {"do", "layer", "mirror"}) touched.erase(key);
  touched["do"] = step.value("how", "tint");
  touched.erase("how");
  const auto read = cellTouchesFrom(json::array({touched}));
  if (!read) return read.error();
  CellTouch touch = read->front();
  if (const auto sample = nearestSample(*d.surface, touch.place, 0.05f * d.surface->bounds.diagonal()))
    touch.part = d.surface->parts[*sample];
  return withCellsTouched(d, *id, std::array{touch}, mirrorIn(step));
}

Result<Document> usualRegions(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  return id ? withUsualRegions(d, *id) : id.error();
}

Result<Document> clearCombs(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  if (!id) return id.error();
  if (step.contains("places")) {
    const auto places = placesIn(step);
    if (!places) return places.error();
    return withoutCombs(d, *id, *places, step.value("reach", 0.02f * d.surface->bounds.diagonal()));
  }
  const Guides* now = layerOf(d, *id)->source->guides();
  if (!now) return Error{"only layers of patterns are combed"};
  Guides next = *now;
  next.direction.combs.clear();
  return withSource(d, *id, layerOf(d, *id)->source->withGuides(std::move(next)));
}

Result<Document> layAdjustment(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  if (!id) return id.error();
  json parameters = step;
  for (const char* key : {"do", "layer"}) parameters.erase(key);
  const auto source = makeSource("adjust", parameters, d.surface->size());
  if (!source) return source.error();
  return withAdjusted(d, *id, *adjustOf(**source));
}

Result<Document> leaveOut(const json& step, const Document& d) {
  const auto id = layerFor(step, d);
  return id ? withUsualExceptions(d, *id) : id.error();
}

const ScriptCommand kSkinCommands[] = {
    {"add mask", {"layer", "guard"}, addMask},
    {"remove mask", {"layer", "guard"}, removeMask},
    {"invert mask", {"layer", "guard"}, invertMask},
    {"melt mask", {"layer", "guard", "melt"}, meltMask},
    {"grow mask", {"layer", "guard", "way"}, growMask},
    {"mask from parts", {"layer", "guard", "parts"}, maskFromParts},
    {"mask from colors", {"layer", "guard", "colors", "tolerance", "fade"}, maskFromColors},
    {"mask from brightness",
     {"layer", "guard", "low", "high", "fade", "contrast", "invert"},
     maskFromBrightness},
    {"mask from areas", {"layer", "guard", "from", "area"}, maskFromAreas},
    {"mask from maps", {"layer", "guard", "maps", "paint"}, maskFromMaps},
    {"zones", {"layer", "zones", "melt"}, changedSource<"zones">},
    {"ramp", {"layer", "maps", "stops"}, changedSource<"ramp">},
    {"comb", {"layer", "places", "pressures", "width", "strength", "mirror"}, comb},
    {"hair edge", {"layer", "places", "width", "mirror"}, byHand<withHairEdge>},
    {"clear combs", {"layer", "places", "reach"}, clearCombs},
    {"lay pattern", {"layer", "places", "pressures", "width", "strength", "mirror"}, byHand<withPatternLaid>},
    {"push size", {"layer", "places", "pressures", "width", "strength", "mirror"}, byHand<withSizePushed>},
    {"soothe", {"layer", "places", "pressures", "width", "strength", "mirror"}, byHand<withSoothed>},
    {"touch scale", {"layer", "how", "place", "color", "amount", "mirror"}, touchScales},
    {"usual regions", {"layer"}, usualRegions},
    {"lay adjustment",
     {"layer", "lightness", "contrast", "hue", "saturation", "tint", "tinted", "from", "to", "matched",
      "curve"},
     layAdjustment},
    {"leave out", {"layer"}, leaveOut},
    {"landmarks", {"places"}, landmarks},
    {"usual zones", {}, usualZonesOf},
    {"fill parts", {"layer", "tones", "strength"}, fillParts},
    {"picture", {"file", "name"}, picture},
};

}  // namespace

std::span<const ScriptCommand> skinCommands() {
  return kSkinCommands;
}

}  // namespace juvenor::batch
