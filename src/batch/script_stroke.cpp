#include "batch/script_stroke.h"

#include <fmt/format.h>

#include <algorithm>

#include "batch/script_lookup.h"
#include "batch/script_slide.h"
#include "core/brush/brush_roll.h"
#include "core/brush/made_stamps.h"
#include "core/document/edits/place_stamp.h"
#include "core/json_fields.h"
#include "core/surface/rays/rays.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

Result<StampPointer> stampNamed(const std::string& name) {
  if (auto made = madeStamp(name)) return made;
  if (std::filesystem::exists(name)) return readStamp(name);
  return Error{fmt::format("there is no stamp '{}', neither a shipped one nor a picture file", name)};
}

// A brush of the roll by its name, or one told inline; "base" takes one of the roll to begin with.
Result<Brush> brushFrom(const json& said, const Document& d) {
  Brush out;
  out.radius = 0.035f * d.surface->bounds.diagonal();
  json rest = said;
  std::string base = said.is_string() ? said.get<std::string>() : std::string();
  if (said.is_object() && said.contains("base") && said["base"].is_string()) {
    base = said["base"].get<std::string>();
    rest.erase("base");
  }
  if (!base.empty()) {
    const auto roll = usualRoll();
    const auto found = std::ranges::find(roll, base, &RollBrush::name);
    if (found == roll.end()) return Error{fmt::format("there is no brush '{}' in the roll", base)};
    out = fitted(found->brush, d.placement.millimetres, d.surface->bounds.diagonal());
  }
  if (rest.is_string()) return out;
  if (!rest.is_object()) return Error{"\"brush\" is a name or an object"};
  if (const Outcome ok = readBrush(rest, stampNamed, out); !ok) return Error{"the brush " + ok.error().what};
  return out;
}

struct ScriptPoint {
  Vec3 at;
  float pressure = 1, seconds = 0;
};

// [x, y, z] and perhaps the pressure, and how long the pen rests there.
Result<ScriptPoint> pointFrom(const json& j) {
  const auto wrong = [&] {
    return Error{fmt::format("{} is no point; expected [x, y, z, pressure, seconds]", textOf(j))};
  };
  if (!j.is_array() || j.size() < 3 || j.size() > 5) return wrong();
  const auto at = vectorFromJson({j[0], j[1], j[2]});
  const auto pressure = j.size() > 3 ? numberFromJson(j[3]) : std::optional(1.f);
  const auto seconds = j.size() > 4 ? numberFromJson(j[4]) : std::optional(0.f);
  if (!at || !pressure || *pressure < 0 || *pressure > 1 || !seconds || *seconds < 0 || *seconds > 60)
    return wrong();
  return ScriptPoint{*at, *pressure, *seconds};
}

// What the pen lays: the values that are given, or those of "channels" alone; black when nothing is said.
Result<ChannelValues> paintIn(const json& step) {
  const auto keys = channelKeys();
  const bool values = std::ranges::any_of(keys, [&](std::string_view key) { return step.contains(key); });
  auto paint = values ? valuesIn(step) : Result<ChannelValues>(EncodedColor{});
  if (!paint || !step.contains("channels")) return paint;
  const auto channels = channelSetIn(step["channels"]);
  if (!channels) return channels.error();
  ChannelValues out;
  if (channels->has(Channel::Color)) out.color = paint->color.value_or(EncodedColor{});
  for (size_t i = 0; i < kChannelCount; ++i)
    if (const auto c = static_cast<Channel>(i); c != Channel::Color && channels->has(c))
      out[c] = (*paint)[c].value_or(0.f);
  return out;
}

// What strokes and stamps have in common.
Result<StrokeSetting> settingIn(const json& step, const Document& d, uint32_t layer, uint32_t activePart) {
  auto brush = brushFrom(step.value("brush", json::object()), d);
  if (!brush) return brush.error();
  StrokeSetting setting;
  setting.brush = *brush;
  setting.layer = layer;
  setting.onMask = step.value("on mask", false);
  setting.activePart = activePart;
  const std::string ink = step.value("ink", "lay");
  setting.ink = inkKind(ink);
  if (!setting.ink) return Error{fmt::format("there is no ink '{}'", ink)};
  const auto paint = paintIn(step);
  if (!paint) return paint.error();
  setting.paint = *paint;
  if (step.contains("paint")) {
    auto slide = slidePaintIn(step["paint"], d);
    if (!slide) return slide.error();
    setting.slide = std::make_shared<const SlidePaint>(std::move(*slide));
  }
  if (setting.ink->bringsBack) {
    const auto checkpoint = checkpointFor(step, d);
    if (!checkpoint) return checkpoint.error();
    setting.checkpoint = *checkpoint;
  }
  if (step.contains("seed")) {
    if (!step["seed"].is_number_unsigned()) return Error{"\"seed\" is a whole number"};
    setting.seed = step["seed"].get<uint64_t>();
  }
  return setting;
}

}  // namespace

Result<Document> withScriptedStroke(const json& step, const Document& d, uint32_t layer,
                                    uint32_t activePart) {
  const auto setting = settingIn(step, d, layer, activePart);
  if (!setting) return setting.error();
  const json points = step.value("points", json::array());
  if (!points.is_array() || points.empty())
    return Error{"needs \"points\": [[x, y, z, pressure, seconds], …]"};
  Flood flood;
  auto stroke = PaintStroke::begin(d, *setting, flood);
  if (!stroke) return stroke.error();
  const auto built = d.maps->rays();
  if (!built) return built.error();
  const Rays& rays = **built;
  for (const json& p : points) {
    const auto point = pointFrom(p);
    if (!point) return point.error();
    const auto place = rays.nearest(point->at, 2 * setting->brush.radius);
    if (!place) {
      (*stroke)->stroke().lift();
      continue;
    }
    (*stroke)->stroke().moveTo(*place, point->pressure);
    constexpr float kTick = 0.02f;
    for (float rested = 0; rested < point->seconds; rested += kTick)
      (*stroke)->stroke().rest(static_cast<double>(std::min(kTick, point->seconds - rested)));
  }
  (*stroke)->stroke().end();
  if ((*stroke)->stroke().dabCount() == 0) return Error{"no point of the stroke lies near the surface"};
  return (*stroke)->finish();
}

Result<Document> withScriptedStamp(const json& step, const Document& d, uint32_t layer, uint32_t activePart) {
  auto setting = settingIn(step, d, layer, activePart);
  if (!setting) return setting.error();
  const auto at = vectorFromJson(step.value("at", json()));
  const auto along =
      step.contains("along") ? vectorFromJson(step["along"]) : std::optional(Vec3(Vec3::UnitX()));
  if (!at || !along) return Error{"needs \"at\": [x, y, z], and \"along\" as a direction"};
  const auto built = d.maps->rays();
  if (!built) return built.error();
  auto place = (*built)->nearest(*at, 2 * setting->brush.radius);
  if (!place) return Error{"nothing lies near the stamp's place"};
  place->toViewer = place->normal;
  Flood flood;
  return withStampPlaced(d, *setting, *place, *along, setting->brush.radius, flood);
}

}  // namespace juvenor::batch
