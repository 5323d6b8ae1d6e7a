#include "core/brush/brush_json.h"

#include "core/json_fields.h"

#include <fmt/format.h>

#include <algorithm>

namespace juvenor {

using nlohmann::json;

namespace {

// What pressure drives, by the names files have for it.
struct Drive {
  std::string_view key;
  bool Brush::*flag;
};
constexpr Drive kDrives[] = {{"size", &Brush::pressureSize},
                             {"opacity", &Brush::pressureOpacity},
                             {"flow", &Brush::pressureFlow},
                             {"dots", &Brush::pressureDots}};

json toJson(const SprayTip& spray) {
  return {{"density", spray.density},
          {"dot", spray.dotRadius},
          {"dot spread", spray.dotSpread},
          {"dot hardness", spray.dotHardness},
          {"ragged", spray.ragged}};
}

json toJson(const Spread& spread) {
  return {{"position", spread.position},
          {"size", spread.size},
          {"angle", spread.angle},
          {"strength", spread.strength},
          {"lightness", spread.lightness},
          {"chroma", spread.chroma},
          {"hue", spread.hue}};
}

Outcome readSpray(const json& said, SprayTip& spray) {
  float cover = -1;
  const Outcome ok = JsonFields(said)
                         .number("density", spray.density, 0, 1e9f)
                         .number("cover", cover, 0, 1)
                         .number("dot", spray.dotRadius, 0, 1e9f)
                         .number("dot spread", spray.dotSpread, 0, 1)
                         .number("dot hardness", spray.dotHardness, 0, 1)
                         .number("ragged", spray.ragged, 0, 1)
                         .done();
  if (!ok) return Error{"the spray " + ok.error().what};
  if (!(spray.dotRadius > 0)) return Error{"the spray needs a dot size above zero"};
  if (cover >= 0) spray.density = densityOfCover(spray, cover);
  return Done{};
}

Outcome readSpread(const json& said, Spread& spread) {
  const Outcome ok = JsonFields(said)
                         .number("position", spread.position, 0, 10)
                         .number("size", spread.size, 0, 1)
                         .number("angle", spread.angle, 0, 180)
                         .number("strength", spread.strength, 0, 1)
                         .number("lightness", spread.lightness, 0, 1)
                         .number("chroma", spread.chroma, 0, 1)
                         .number("hue", spread.hue, 0, 180)
                         .done();
  if (!ok) return Error{"the spread " + ok.error().what};
  return Done{};
}

Outcome readStamp(const json& said, const StampLookup& stamps, StampTip& out) {
  std::string name;
  const Outcome ok = JsonFields(said)
                         .text("name", name)
                         .flag("own colors", out.ownColors)
                         .flag("inverted", out.inverted)
                         .needs({"name"})
                         .done();
  if (!ok) return Error{"the stamp " + ok.error().what};
  auto stamp = stamps(name);
  if (!stamp) return stamp.error();
  out.stamp = std::move(*stamp);
  return Done{};
}

Outcome readPressure(const json& list, Brush& brush) {
  for (const Drive& drive : kDrives) brush.*drive.flag = false;
  for (const json& what : list) {
    const auto drive =
        std::ranges::find(kDrives, what.is_string() ? what.get<std::string>() : std::string(), &Drive::key);
    if (drive == std::end(kDrives))
      return Error{fmt::format("\"pressure\" drives size, opacity, flow or dots, not {}", textOf(what))};
    brush.*drive->flag = true;
  }
  return Done{};
}

}  // namespace

json toJson(const Brush& brush) {
  json pressure = json::array();
  for (const Drive& drive : kDrives)
    if (brush.*drive.flag) pressure.push_back(drive.key);
  json out{{"size", brush.radius}, {"hardness", brush.hardness},   {"opacity", brush.opacity},
           {"flow", brush.flow},   {"step", brush.step},           {"steady", brush.steady},
           {"pressure", pressure}, {"tip", tipKey(brush.tip)},     {"turn", turnByKey(brush.turnBy)},
           {"angle", brush.angle}, {"looseness", brush.looseness}, {"spread", toJson(brush.spread)}};
  if (brush.tip == TipKind::Spray) out["spray"] = toJson(brush.spray);
  if (brush.tip == TipKind::Stamp && brush.stamp.stamp)
    out["stamp"] = {{"name", brush.stamp.stamp->name()},
                    {"own colors", brush.stamp.ownColors},
                    {"inverted", brush.stamp.inverted}};
  return out;
}

Outcome readBrush(const json& said, const StampLookup& stamps, Brush& brush) {
  std::string mirror, tip(tipKey(brush.tip)), turn(turnByKey(brush.turnBy));
  const json *pressure = nullptr, *spray = nullptr, *stamp = nullptr, *spread = nullptr;
  const Outcome ok = JsonFields(said)
                         .number("size", brush.radius, 0, 1e9f)
                         .number("hardness", brush.hardness, 0, 1)
                         .number("opacity", brush.opacity, 0, 1)
                         .number("flow", brush.flow, 0, 1)
                         .number("step", brush.step, 0.01f, 10)
                         .number("steady", brush.steady, 0, 400)
                         .flag("front only", brush.frontOnly)
                         .flag("all parts", brush.allParts)
                         .number("mirror tolerance", brush.mirrorTolerance, 0, 1e9f)
                         .number("looseness", brush.looseness, 0, 1)
                         .text("mirror", mirror)
                         .list("pressure", pressure)
                         .text("tip", tip)
                         .text("turn", turn)
                         .number("angle", brush.angle, -360, 360)
                         .any("spray", spray)
                         .any("stamp", stamp)
                         .any("spread", spread)
                         .done();
  if (!ok) return ok.error();
  for (const char axis : mirror) {
    if (axis < 'x' || axis > 'z') return Error{"\"mirror\" is made of the letters x, y and z"};
    brush.mirror[static_cast<size_t>(axis - 'x')] = true;
  }
  if (pressure)
    if (const Outcome done = readPressure(*pressure, brush); !done) return done;
  const auto kind = tipFromKey(tip);
  const auto by = turnByFromKey(turn);
  if (!kind) return Error{fmt::format("there is no tip '{}'; there are falloff, stamp and spray", tip)};
  if (!by) return Error{fmt::format("dabs are not turned by '{}' but fixed, stroke, tilt or random", turn)};
  brush.tip = *kind;
  brush.turnBy = *by;
  if (spray)
    if (const Outcome done = readSpray(*spray, brush.spray); !done) return done;
  if (spread)
    if (const Outcome done = readSpread(*spread, brush.spread); !done) return done;
  if (stamp)
    if (const Outcome done = readStamp(*stamp, stamps, brush.stamp); !done) return done;
  if (brush.tip == TipKind::Stamp && !brush.stamp.stamp) return Error{"a stamp tip needs a \"stamp\""};
  if (!(brush.radius > 0) || !(brush.step > 0)) return Error{"needs a size and a step above zero"};
  return Done{};
}

Brush scaled(const Brush& brush, float factor) {
  Brush out = brush;
  out.radius *= factor;
  out.spray.dotRadius *= factor;
  out.spray.density /= factor * factor;
  return out;
}

}  // namespace juvenor
