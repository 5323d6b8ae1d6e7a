#include "core/surface/maps/map_setting.h"

#include <fmt/format.h>

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
  if (!json.is_object() || !json.contains("map") || !json["map"].is_string())
    return Error{"a surface map needs a name, like {\"map\": \"cavity\", \"scale\": 4}"};
  const auto kind = mapKindFromKey(json["map"].get<std::string>());
  if (!kind) return Error{fmt::format("there is no surface map '{}'", json["map"].get<std::string>())};
  MapSetting out{*kind, 0, Vec3::UnitY()};
  const MapFacts& facts = factsOf(*kind);
  if (facts.hasScale) {
    const auto scale = json.find("scale");
    const bool needed = *kind != MapKind::Occlusion;
    if (scale == json.end() ? needed : !scale->is_number())
      return Error{fmt::format("the map '{}' needs a \"scale\" in scene units", facts.key)};
    if (scale != json.end()) out.scale = scale->get<float>();
    if (!std::isfinite(out.scale) || out.scale < 0 || (needed && out.scale == 0))
      return Error{fmt::format("the scale of the map '{}' must be above 0", facts.key)};
  }
  if (const auto d = json.find("direction"); facts.hasDirection && d != json.end()) {
    if (!d->is_array() || d->size() != 3 || !(*d)[0].is_number() || !(*d)[1].is_number() ||
        !(*d)[2].is_number())
      return Error{fmt::format("the direction of the map '{}' needs three numbers", facts.key)};
    const Vec3 v((*d)[0].get<float>(), (*d)[1].get<float>(), (*d)[2].get<float>());
    if (!(v.norm() > 0) || !std::isfinite(v.norm()))
      return Error{fmt::format("the direction of the map '{}' has no length", facts.key)};
    out.direction = v.normalized();
  }
  return out;
}

}  // namespace juvenor
