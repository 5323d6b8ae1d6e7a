#include "core/carry/carry_json.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/json_fields.h"

namespace juvenor {
namespace {

using nlohmann::json;

Result<uint32_t> partNamed(const Sculpt& sculpt, const std::string& name, std::string_view which) {
  const auto at = std::ranges::find(sculpt.parts, name);
  if (at == sculpt.parts.end()) return Error{fmt::format("the {} sculpt has no part “{}”", which, name)};
  return static_cast<uint32_t>(at - sculpt.parts.begin());
}

Outcome readPins(const json& list, std::vector<CarryPin>& out) {
  for (const json& said : list) {
    CarryPin pin;
    const Outcome ok = JsonFields(said)
                           .text("name", pin.name)
                           .vector("old", pin.old)
                           .vector("new", pin.fresh)
                           .needs({"old", "new"})
                           .done();
    if (!ok) return Error{fmt::format("pin {} {}", out.size() + 1, ok.error().what)};
    out.push_back(std::move(pin));
  }
  return Done{};
}

Outcome readParts(const json& parts, const Sculpt& old, const Sculpt& fresh, CarrySetting& out) {
  if (!parts.is_object()) return Error{"needs an object as \"parts\""};
  for (const auto& [name, from] : parts.items()) {
    const auto part = partNamed(fresh, name, "new");
    if (!part) return part.error();
    if (!from.is_array()) return Error{fmt::format("needs a list of parts for “{}”", name)};
    auto& sources = out.parts[*part];
    for (const json& one : from) {
      if (!one.is_string()) return Error{fmt::format("needs names of parts for “{}”", name)};
      const auto source = partNamed(old, one.get<std::string>(), "old");
      if (!source) return source.error();
      sources.insert(*source);
    }
  }
  return Done{};
}

}  // namespace

Result<CarrySetting> carrySettingFrom(const json& said, const Sculpt& old, const Sculpt& fresh) {
  CarrySetting out;
  const json *pins = nullptr, *parts = nullptr;
  Outcome ok = JsonFields(said)
                   .list("pins", pins)
                   .any("parts", parts)
                   .flag("checkpoints", out.checkpoints)
                   .flag("keep-lost", out.keepLost)
                   .number("reach", out.reach, 0, 1e9f)
                   .done();
  if (ok && pins) ok = readPins(*pins, out.pins);
  if (ok && parts) ok = readParts(*parts, old, fresh, out);
  if (!ok) return ok.error();
  return out;
}

std::string sentenceOf(const CarryReport& report) {
  return fmt::format("{:.1f} % sure, {:.1f} % in doubt, {:.1f} % unknown", 100 * report.sure,
                     100 * report.doubtful, 100 * report.unknown);
}

nlohmann::json toJson(const CarryReport& report) {
  nlohmann::json parts = nlohmann::json::array();
  for (const CarryReport::Part& part : report.parts)
    parts.push_back({{"name", part.name}, {"from", part.from}, {"same-polygons", part.samePolygons}});
  const Similarity& m = report.motion;
  const Eigen::AngleAxisf turn(m.turn);
  return {{"points", report.points},
          {"sure", report.sure},
          {"doubtful", report.doubtful},
          {"unknown", report.unknown},
          {"same-polygons", report.samePolygons},
          {"lay-there", report.lay},
          {"scale", m.scale},
          {"turned-degrees", turn.angle() * 57.29578f},
          {"moved", {m.shift.x(), m.shift.y(), m.shift.z()}},
          {"mean-distance", report.rest},
          {"parts", parts},
          {"lost", report.lost},
          {"left", report.left}};
}

}  // namespace juvenor
