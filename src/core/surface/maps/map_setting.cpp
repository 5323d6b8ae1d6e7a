#include "core/surface/maps/map_setting.h"

#include <fmt/format.h>

#include <array>
#include <cmath>

namespace juvenor {
namespace {

constexpr MapFacts kFacts[kMapKindCount] = {
    {"cavity", "Cavity", "a hollow as tight as the scale", true, false, 0.008f},
    {"ridge", "Ridge", "a ridge as sharp as the scale", true, false, 0.008f},
    {"occlusion", "Occlusion", "closed in on all sides", true, false, 0},
    {"thickness", "Thickness", "as thick as the scale, or more", true, false, 0.12f},
    {"exposure", "Exposure", "the whole sky is seen", false, true, 0},
    {"elevation", "Elevation", "the highest point", false, true, 0},
    {"facing", "Facing", "turned right toward the direction", false, true, 0},
};

constexpr auto kKeys = [] {
  std::array<std::string_view, kMapKindCount> out;
  for (size_t i = 0; i < out.size(); ++i) out[i] = kFacts[i].key;
  return out;
}();

}  // namespace

const MapFacts& factsOf(MapKind kind) {
  return kFacts[static_cast<size_t>(kind)];
}

std::optional<MapKind> mapKindFromKey(std::string_view key) {
  for (int i = 0; i < kMapKindCount; ++i)
    if (kFacts[i].key == key) return static_cast<MapKind>(i);
  return std::nullopt;
}

MapSetting usualMap(MapKind kind, float diagonal) {
  return {kind, factsOf(kind).usualScale * diagonal, Vec3::UnitY()};
}

nlohmann::json toJson(const MapSetting& setting) {
  const MapFacts& facts = factsOf(setting.kind);
  nlohmann::json out{{"map", facts.key}};
  if (facts.hasScale) out["scale"] = setting.scale;
  if (facts.hasDirection)
    out["direction"] = {setting.direction.x(), setting.direction.y(), setting.direction.z()};
  return out;
}

Result<MapSetting> mapSettingFrom(const nlohmann::json& json) {
  JsonFields fields(json);
  return mapSettingFrom(fields);
}

Result<MapSetting> mapSettingFrom(JsonFields& fields) {
  MapSetting out;
  std::string key;
  out.scale = -1;
  fields.text("map", key).number("scale", out.scale, -1, 1e9f).vector("direction", out.direction);
  if (const Outcome ok = fields.needs({"map"}).done(); !ok) return ok.error();
  const auto kind = mapKindFromKey(key);
  if (!kind) return Error{fmt::format("there is no surface map '{}'{}", key, nearestWord(key, kKeys))};
  out.kind = *kind;
  const MapFacts& facts = factsOf(*kind);
  // how far a blocker may be away need not be said
  const bool needed = facts.hasScale && facts.usualScale > 0;
  if (!facts.hasScale || (!fields.has("scale") && !needed)) out.scale = 0;
  if (out.scale < 0 || (needed && out.scale == 0))
    return Error{fmt::format("the map '{}' needs a \"scale\" above 0, in scene units", key)};
  const float length = out.direction.stableNorm();
  if (!(length > 0) || !std::isfinite(length))
    return Error{fmt::format("the direction of the map '{}' has no length", key)};
  out.direction = facts.hasDirection ? Vec3(out.direction / length) : Vec3(Vec3::UnitY());
  return out;
}

}  // namespace juvenor
