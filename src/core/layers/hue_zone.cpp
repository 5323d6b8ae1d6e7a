#include "core/layers/hue_zone.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace juvenor {

bool HueZone::operator==(const HueZone& o) const {
  return name == o.name && landmark == o.landmark && anchor == o.anchor && mirrored == o.mirrored &&
         tint == o.tint && reach == o.reach && strength == o.strength && softness == o.softness &&
         breakUp == o.breakUp && grain == o.grain;
}

nlohmann::json toJson(const ZoneSet& set) {
  nlohmann::json zones = nlohmann::json::array();
  for (const HueZone& z : set.zones) {
    nlohmann::json tint{{"hue", z.tint.hue}, {"chroma", z.tint.chroma}};
    if (z.tint.plain) tint = {{"color", {z.tint.color.r, z.tint.color.g, z.tint.color.b}}};
    zones.push_back({{"name", z.name},
                     {"landmark", z.landmark},
                     {"anchor", {z.anchor.x(), z.anchor.y(), z.anchor.z()}},
                     {"mirrored", z.mirrored},
                     {"tint", tint},
                     {"reach", z.reach},
                     {"strength", z.strength},
                     {"softness", z.softness},
                     {"break-up", z.breakUp},
                     {"grain", z.grain}});
  }
  return {{"zones", zones}, {"melt", set.melt}};
}

namespace {

// Reads one zone; what is not given stays as in HueZone.
class ZoneReader {
 public:
  explicit ZoneReader(const nlohmann::json& json) : json_(json) {}

  Result<HueZone> read() {
    if (!json_.is_object()) return Error{"is not an object"};
    HueZone z;
    Outcome ok = text("name", z.name);
    if (ok) ok = text("landmark", z.landmark);
    if (ok) ok = anchor(z.anchor);
    if (ok) ok = tint(z.tint);
    if (ok && json_.contains("mirrored")) {
      if (!json_["mirrored"].is_boolean()) return Error{"needs true or false as \"mirrored\""};
      z.mirrored = json_["mirrored"].get<bool>();
    }
    if (ok) ok = number(json_, "reach", z.reach, 0, 1e9f);
    if (ok) ok = number(json_, "strength", z.strength, 0, 1);
    if (ok) ok = number(json_, "softness", z.softness, 0, 1);
    if (ok) ok = number(json_, "break-up", z.breakUp, 0, 1);
    if (ok) ok = number(json_, "grain", z.grain, 0, 1e9f);
    if (!ok) return ok.error();
    return z;
  }

 private:
  Outcome text(const char* key, std::string& out) const {
    if (!json_.contains(key)) return Done{};
    if (!json_[key].is_string()) return Error{fmt::format("needs a text as \"{}\"", key)};
    out = json_[key].get<std::string>();
    return Done{};
  }
  static Outcome number(const nlohmann::json& from, const char* key, float& out, float low, float high) {
    if (!from.contains(key)) return Done{};
    if (!from[key].is_number()) return Error{fmt::format("needs a number as \"{}\"", key)};
    out = std::clamp(from[key].get<float>(), low, high);
    return Done{};
  }
  Outcome anchor(Vec3& out) const {
    const auto a = json_.find("anchor");
    if (a == json_.end() || !a->is_array() || a->size() != 3 || !(*a)[0].is_number() ||
        !(*a)[1].is_number() || !(*a)[2].is_number())
      return Error{"needs an \"anchor\" of three numbers"};
    out = {(*a)[0].get<float>(), (*a)[1].get<float>(), (*a)[2].get<float>()};
    return Done{};
  }
  Outcome tint(ZoneTint& out) const {
    if (!json_.contains("tint")) return Done{};
    const nlohmann::json& t = json_["tint"];
    if (!t.is_object()) return Error{"needs {\"hue\", \"chroma\"} or {\"color\"} as its tint"};
    if (const auto c = t.find("color"); c != t.end()) {
      out.plain = true;
      if (c->is_string()) {
        const auto read = fromHex(c->get<std::string>());
        if (!read) return Error{"has a tint that is no colour"};
        out.color = *read;
        return Done{};
      }
      if (!c->is_array() || c->size() != 3 || !(*c)[0].is_number() || !(*c)[1].is_number() ||
          !(*c)[2].is_number())
        return Error{"needs three numbers or a text as the colour of its tint"};
      out.color = {(*c)[0].get<float>(), (*c)[1].get<float>(), (*c)[2].get<float>()};
      return Done{};
    }
    const Outcome hue = number(t, "hue", out.hue, -720, 720);
    return hue ? number(t, "chroma", out.chroma, 0, 0.4f) : hue;
  }

  const nlohmann::json& json_;
};

}  // namespace

Result<ZoneSet> zoneSetFrom(const nlohmann::json& parameters) {
  if (!parameters.is_object() || !parameters.contains("zones") || !parameters["zones"].is_array())
    return Error{"hue zones need a list \"zones\""};
  ZoneSet out;
  for (const auto& j : parameters["zones"]) {
    auto zone = ZoneReader(j).read();
    if (!zone) return Error{fmt::format("zone {} {}", out.zones.size() + 1, zone.error().what)};
    out.zones.push_back(std::move(*zone));
  }
  if (parameters.contains("melt")) {
    if (!parameters["melt"].is_number()) return Error{"\"melt\" must be a number"};
    out.melt = std::clamp(parameters["melt"].get<float>(), 0.f, 1e9f);
  }
  return out;
}

}  // namespace juvenor
