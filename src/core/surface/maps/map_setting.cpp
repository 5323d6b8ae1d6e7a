#include "core/surface/maps/map_setting.h"

#include <fmt/format.h>

#include <cmath>

namespace juvenor {
MapSetting usualMap(const MapKind* kind, float diagonal) {
  return {kind, kind->usualScale * diagonal, Vec3::UnitY(), 1};
}

nlohmann::json toJson(const MapSetting& setting) {
  nlohmann::json out{{"map", setting.kind->key}};
  if (setting.kind->hasScale) out["scale"] = setting.scale;
  if (setting.kind->hasDirection)
    out["direction"] = {setting.direction.x(), setting.direction.y(), setting.direction.z()};
  if (setting.kind->hasSeed) out["seed"] = setting.seed;
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
  fields.text("map", key)
      .number("scale", out.scale, -1, 1e9f)
      .vector("direction", out.direction)
      .whole("seed", out.seed);
  if (const Outcome ok = fields.needs({"map"}).done(); !ok) return ok.error();
  out.kind = mapKind(key);
  if (!out.kind) {
    std::vector<std::string_view> keys;
    for (const MapKind* k : mapKinds()) keys.push_back(k->key);
    return Error{fmt::format("there is no surface map '{}'{}", key, nearestWord(key, keys))};
  }
  const MapKind& facts = *out.kind;
  // how far a blocker may be away need not be said
  const bool needed = facts.hasScale && facts.usualScale > 0;
  if (!facts.hasScale || (!fields.has("scale") && !needed)) out.scale = 0;
  if (out.scale < 0 || (needed && out.scale == 0))
    return Error{fmt::format("the map '{}' needs a \"scale\" above 0, in scene units", key)};
  if (!facts.hasSeed) out.seed = 1;
  const float length = out.direction.stableNorm();
  if (!(length > 0) || !std::isfinite(length))
    return Error{fmt::format("the direction of the map '{}' has no length", key)};
  out.direction = facts.hasDirection ? Vec3(out.direction / length) : Vec3(Vec3::UnitY());
  return out;
}

}  // namespace juvenor
