#include "batch/script_lookup.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/color/color_json.h"
#include "core/color/skin_tone.h"
#include "core/document/edits/edits.h"
#include "core/layers/sources/fill.h"

namespace juvenor::batch {

using nlohmann::json;

Result<uint32_t> layerFor(const json& step, const Document& d, const char* key) {
  const auto said = step.find(key);
  if (said == step.end()) {
    if (layerOf(d, d.activeLayer)) return d.activeLayer;
    return Error{"there is no layer yet"};
  }
  if (said->is_number_unsigned() && said->get<uint64_t>() <= std::numeric_limits<uint32_t>::max())
    if (const auto id = said->get<uint32_t>(); layerOf(d, id)) return id;
  if (said->is_string())
    for (size_t i = d.layers.size(); i-- > 0;)
      if (d.layers[i]->name == said->get<std::string>()) return d.layers[i]->id;
  return Error{fmt::format("there is no layer {}", textOf(*said))};
}

namespace {

// Of things with a name and a number: the one under a key, the last one when nothing is said.
template <class Thing>
Result<uint32_t> numberedFor(const json& step, const std::vector<Thing>& things, const char* key,
                             std::string_view one) {
  const auto said = step.find(key);
  if (said == step.end()) {
    if (!things.empty()) return things.back().id;
    return Error{fmt::format("there is no {} yet", one)};
  }
  for (size_t i = things.size(); i-- > 0;)
    if (*said == json(things[i].name) || *said == json(things[i].id)) return things[i].id;
  return Error{fmt::format("there is no {} {}", one, textOf(*said))};
}

}  // namespace

Result<uint32_t> slideFor(const json& step, const Document& d, const char* key) {
  return numberedFor(step, d.slides, key, "slide");
}

Result<uint32_t> checkpointFor(const json& step, const Document& d, const char* key) {
  return numberedFor(step, d.checkpoints, key, "checkpoint");
}

Result<ChannelSet> channelSetIn(const json& list) {
  if (!list.is_array()) return Error{"\"channels\" is a list"};
  ChannelSet out;
  for (const json& name : list) {
    const auto channel = name.is_string() ? channelFromKey(name.get<std::string>()) : std::nullopt;
    if (!channel)
      return Error{
          fmt::format("{} is no channel; there are {}", textOf(name), fmt::join(channelKeys(), ", "))};
    out |= *channel;
  }
  return out;
}

Result<uint32_t> partNamed(const json& name, const Document& d) {
  if (name.is_string())
    for (uint32_t i = 0; i < d.sculpt->parts.size(); ++i)
      if (d.sculpt->parts[i] == name.get<std::string>()) return i;
  return Error{
      fmt::format("there is no part {}; the sculpt has {}", textOf(name), fmt::join(d.sculpt->parts, ", "))};
}

Result<ChannelValues> valuesOf(const json& value) {
  ChannelValues out;
  if (!value.is_object()) {
    out.color = colorFromJson(value);
    if (!out.color) return Error{fmt::format("{} is no colour", textOf(value))};
    return out;
  }
  JsonFields fields(value);
  const Outcome ok = readChannels(fields, out).done();
  if (!ok) return ok.error();
  if (out.channels().empty())
    return Error{
        fmt::format("needs a value: \"color\": \"#rrggbb\" or [red, green, blue] from 0 to 1, or one of {}",
                    fmt::join(channelKeys(), ", "))};
  return out;
}

Result<ChannelValues> valuesIn(const json& step) {
  json said = json::object();
  for (const std::string_view key : channelKeys())
    if (step.contains(key)) said[key] = step[key];
  return valuesOf(said);
}

Result<SourcePointer> sourceIn(const json& step, const SourceKind& kind, const Document& d) {
  json said = json::object();
  for (const std::string_view key : kind.keys)
    if (step.contains(key)) said[std::string(key)] = step[key];
  // a layer begins as the window begins it; of a fill what is not said is not brought
  const SourcePointer fresh = kind.fresh(*d.surface, colorOf(SkinTone{}));
  json parameters = fillValues(*fresh) && !said.empty() ? json::object() : fresh->parameters();
  for (const auto& [key, value] : said.items()) {
    json& before = parameters[key];
    if (before.is_object() && value.is_object())
      before.update(value);
    else
      before = value;
  }
  auto source = kind.read(parameters, d.surface->size());
  if (!source) return source;
  const std::map<uint64_t, PicturePointer> pictures = picturesOf(d);
  auto whole =
      (*source)->withPictures([&](uint64_t fingerprint, const std::string& name) -> Result<PicturePointer> {
        const auto found = pictures.find(fingerprint);
        if (found == pictures.end())
          return Error{fmt::format("the document has no picture for the slide “{}”", name)};
        return found->second;
      });
  if (!whole) return whole;
  return *whole ? *whole : *source;
}

Result<Placement> placementFrom(const PlacementSaid& said, const Placement& usual, const Surface& surface) {
  Placement out = usual;
  const auto up = axisFromKey(said.up), front = axisFromKey(said.front);
  if ((!said.up.empty() && !up) || (!said.front.empty() && !front))
    return Error{"axes are x, -x, y, -y, z and -z"};
  if (up) out.up = *up;
  if (front) out.front = *front;
  if (!said.unit.empty()) {
    const auto millimetres = millimetresOf(said.unit);
    if (!millimetres) return Error{fmt::format("'{}' is no unit; there are mm, cm, m and inch", said.unit)};
    out.millimetres = *millimetres;
  }
  const float tall =
      (surface.bounds.high - surface.bounds.low).cwiseProduct(directionOf(out.up)).cwiseAbs().sum();
  if (said.height > 0 && tall > 0) out.millimetres = 10 * said.height / tall;
  if (const Outcome sound = checked(out); !sound) return sound.error();
  return out;
}

Result<Document> withPlacementSaid(const Document& d, const PlacementSaid& said) {
  const auto placement = placementFrom(said, d.placement, *unplaced(d.surface, d.placement));
  return placement ? withPlacement(d, *placement) : Result<Document>(placement.error());
}

Outcome onlyKnownKeys(const json& step, std::span<const std::string_view> known) {
  for (const auto& [key, value] : step.items())
    if (key != "do" && std::ranges::find(known, key) == known.end())
      return Error{fmt::format("has an unknown key \"{}\"{}", key, nearestWord(key, known))};
  return Done{};
}

Result<uint32_t> partIn(const json& step, const Document& d) {
  return step.contains("part") ? partNamed(step["part"], d) : Result<uint32_t>(kNone);
}

}  // namespace juvenor::batch
