#include "batch/script_stroke.h"

#include <fmt/format.h>

#include <algorithm>

#include "batch/script_lookup.h"
#include "core/document/paint_stroke.h"
#include "core/json_fields.h"
#include "core/surface/rays.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

Result<Brush> brushFrom(const json& said, float usualRadius) {
  Brush b;
  b.radius = usualRadius;
  std::string mirror;
  const json* pressure = nullptr;
  const Outcome ok = JsonFields(said)
                         .number("size", b.radius, 0, 1e9f)
                         .number("hardness", b.hardness, 0, 1)
                         .number("opacity", b.opacity, 0, 1)
                         .number("flow", b.flow, 0, 1)
                         .number("step", b.step, 0, 10)
                         .flag("front only", b.frontOnly)
                         .flag("all parts", b.allParts)
                         .number("mirror tolerance", b.mirrorTolerance, 0, 1e9f)
                         .text("mirror", mirror)
                         .list("pressure", pressure)
                         .done();
  if (!ok) return Error{"the brush " + ok.error().what};
  for (const char axis : mirror) {
    if (axis < 'x' || axis > 'z') return Error{"\"mirror\" is made of the letters x, y and z"};
    b.mirror[static_cast<size_t>(axis - 'x')] = true;
  }
  const auto drives = [&](const char* what) {
    return !pressure || std::ranges::find(*pressure, json(what)) != pressure->end();
  };
  b.pressureSize = drives("size");
  b.pressureOpacity = pressure && drives("opacity");
  b.pressureFlow = drives("flow");
  if (!(b.radius > 0) || !(b.step > 0)) return Error{"the brush needs a size and a step above zero"};
  return b;
}

// [x, y, z] and perhaps the pressure.
Result<std::pair<Vec3, float>> pointFrom(const json& j) {
  const auto wrong = [&] {
    return Error{fmt::format("{} is no point; expected [x, y, z, pressure]", j.dump())};
  };
  if (!j.is_array() || j.size() < 3 || j.size() > 4) return wrong();
  const auto at = vectorFromJson({j[0], j[1], j[2]});
  const auto pressure = j.size() > 3 ? numberFromJson(j[3]) : std::optional(1.f);
  if (!at || !pressure || *pressure < 0 || *pressure > 1) return wrong();
  return std::pair(*at, *pressure);
}

// What the pen lays: the values that are given, or those of "channels" alone; black when nothing is said.
Result<ChannelValues> paintIn(const json& step) {
  const auto keys = channelKeys();
  const bool values = std::ranges::any_of(keys, [&](std::string_view key) { return step.contains(key); });
  auto paint = values ? valuesIn(step) : Result<ChannelValues>(EncodedColor{});
  if (!paint || !step.contains("channels")) return paint;
  ChannelValues out;
  for (const json& name : step["channels"]) {
    const auto channel = name.is_string() ? channelFromKey(name.get<std::string>()) : std::nullopt;
    if (!channel)
      return Error{fmt::format("{} is no channel; there are {}", name.dump(), fmt::join(keys, ", "))};
    if (*channel == Channel::Color)
      out.color = paint->color.value_or(EncodedColor{});
    else
      out[*channel] = (*paint)[*channel].value_or(0.f);
  }
  return out;
}

}  // namespace

Result<Document> withScriptedStroke(const json& step, const Document& d, uint32_t layer,
                                    uint32_t activePart) {
  const json said = step.value("brush", json::object());
  auto brush = brushFrom(said, 0.035f * d.surface->bounds.diagonal());
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
  const json points = step.value("points", json::array());
  if (!points.is_array() || points.empty()) return Error{"needs \"points\": [[x, y, z, pressure], …]"};
  Flood flood;
  auto stroke = PaintStroke::begin(d, setting, flood);
  if (!stroke) return stroke.error();
  const auto built = d.maps->rays();
  if (!built) return built.error();
  const Rays& rays = **built;
  for (const json& p : points) {
    const auto point = pointFrom(p);
    if (!point) return point.error();
    const auto place = rays.nearest(point->first, 2 * setting.brush.radius);
    if (place)
      (*stroke)->stroke().moveTo(*place, point->second);
    else
      (*stroke)->stroke().lift();
  }
  if ((*stroke)->stroke().dabCount() == 0) return Error{"no point of the stroke lies near the surface"};
  return (*stroke)->finish();
}

}  // namespace juvenor::batch
