#include "core/layers/zones/hue_zone.h"

#include <fmt/format.h>

#include "core/color/color_json.h"

namespace juvenor {

namespace {

constexpr Member<HueZone> kZoneMembers[] = {
    {{"reach", "Reach", "How far it goes along the skin", MemberUnit::Length, 0, kEndless, 0.002f, 0.6f},
     [](HueZone& z) -> float& { return z.reach; }},
    {{"strength", "Strength", "How far it moves the colour at its middle"},
     [](HueZone& z) -> float& { return z.strength; }},
    {{"softness", "Softness", "0 a hard edge, 100 fading from the middle on"},
     [](HueZone& z) -> float& { return z.softness; }},
    {{"break-up", "Break-up", "A ragged edge and a mottled inside"},
     [](HueZone& z) -> float& { return z.breakUp; }},
    {{"grain", "Grain", "How large what breaks it up is", MemberUnit::Length, 0, kEndless, 0.0005f, 0.2f},
     [](HueZone& z) -> float& { return z.grain; }},
};

}  // namespace

template <>
std::span<const Member<HueZone>> membersOf() {
  return kZoneMembers;
}

bool HueZone::operator==(const HueZone& o) const {
  return name == o.name && landmark == o.landmark && like == o.like && anchor == o.anchor && part == o.part &&
         mirrored == o.mirrored && other == o.other && tint == o.tint && reach == o.reach &&
         strength == o.strength && softness == o.softness && breakUp == o.breakUp && grain == o.grain;
}

std::optional<Vec3> secondAnchor(const HueZone& zone) {
  if (!zone.mirrored) return std::nullopt;
  const Vec3 second = zone.other.value_or(Vec3(-zone.anchor.x(), zone.anchor.y(), zone.anchor.z()));
  return second == zone.anchor ? std::nullopt : std::optional(second);
}

nlohmann::json toJson(const ZoneSet& set) {
  nlohmann::json zones = nlohmann::json::array();
  for (const HueZone& z : set.zones) {
    nlohmann::json tint{{"hue", z.tint.hue}, {"chroma", z.tint.chroma}};
    if (z.tint.plain) tint = {{"color", toJson(z.tint.color)}};
    nlohmann::json zone{{"name", z.name},
                        {"landmark", z.landmark},
                        {"anchor", {z.anchor.x(), z.anchor.y(), z.anchor.z()}},
                        {"mirrored", z.mirrored},
                        {"tint", tint}};
    addMembers(zone, z);
    if (z.part != kNone) zone["part"] = z.part;
    if (z.other) zone["other"] = {z.other->x(), z.other->y(), z.other->z()};
    if (!z.like.empty()) zone["like"] = z.like;
    zones.push_back(std::move(zone));
  }
  return {{"zones", zones}, {"melt", set.melt}};
}

namespace {

Result<ZoneTint> tintFrom(const nlohmann::json& json) {
  ZoneTint out;
  JsonFields fields(json);
  out.plain = fields.has("color");
  const Outcome ok =
      out.plain ? fields.value("color", out.color, kJsonColor).done()
                : fields.number("hue", out.hue, -720, 720).number("chroma", out.chroma, 0, 0.4f).done();
  if (!ok) return ok.error();
  return out;
}

// What is not given stays as in HueZone.
Result<HueZone> zoneFrom(const nlohmann::json& json) {
  HueZone out;
  const nlohmann::json* tint = nullptr;
  Vec3 other = Vec3::Zero();
  JsonFields fields(json);
  const bool second = fields.has("other");
  fields.text("name", out.name)
      .text("landmark", out.landmark)
      .text("like", out.like)
      .vector("anchor", out.anchor)
      .vector("other", other)
      .any("tint", tint)
      .whole("part", out.part)
      .flag("mirrored", out.mirrored);
  const Outcome ok = readMembers(fields, out).needs({"anchor"}).done();
  if (!ok) return ok.error();
  if (second) out.other = other;
  if (!tint) return out;
  const auto read = tintFrom(*tint);
  if (!read) return Error{"has a tint that " + read.error().what};
  out.tint = *read;
  return out;
}

}  // namespace

nlohmann::json withoutNames(nlohmann::json zones) {
  for (nlohmann::json& zone : zones) zone.erase("name");
  return zones;
}

Result<ZoneSet> zoneSetFrom(const nlohmann::json& parameters) {
  ZoneSet out;
  const nlohmann::json* zones = nullptr;
  const Outcome ok =
      JsonFields(parameters).list("zones", zones).number("melt", out.melt, 0, 1e9f).needs({"zones"}).done();
  if (!ok) return Error{"a layer of hue zones " + ok.error().what};
  for (const auto& j : *zones) {
    auto zone = zoneFrom(j);
    if (!zone) return Error{fmt::format("zone {} {}", out.zones.size() + 1, zone.error().what)};
    out.zones.push_back(std::move(*zone));
  }
  return out;
}

}  // namespace juvenor
