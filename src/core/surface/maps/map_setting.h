// Which surface map, and how it is measured: what a mask or a colour ramp names, and what the cache goes by.
#pragma once

#include <nlohmann/json.hpp>
#include <optional>
#include <string_view>

#include "core/json_fields.h"

namespace juvenor {

enum class MapKind { Cavity, Ridge, Occlusion, Thickness, Exposure, Elevation, Facing };
inline constexpr int kMapKindCount = 7;

struct MapSetting {
  MapKind kind = MapKind::Cavity;
  /// Scene units. Cavity and ridge: the size of the forms that count. Occlusion: how far away a blocker may
  /// be, 0 for any distance. Thickness: what counts as fully thick.
  float scale = 0;
  /// Unit vector. Exposure: where the sky is. Elevation: what counts as up. Facing: what is faced.
  Vec3 direction = Vec3::UnitY();

  bool operator==(const MapSetting& o) const {
    return kind == o.kind && scale == o.scale && direction == o.direction;
  }
};

/// What a person and a file need to know of a kind.
struct MapFacts {
  std::string_view key;    ///< in files: "cavity"
  std::string_view label;  ///< in the window: "Cavity"
  std::string_view shows;  ///< what 1 means
  bool hasScale, hasDirection;
  float usualScale;  ///< as a part of the diagonal of the surface's bounds
};
const MapFacts& factsOf(MapKind kind);
std::optional<MapKind> mapKindFromKey(std::string_view key);
/// A setting with the usual scale for a surface of this size.
MapSetting usualMap(MapKind kind, float diagonal);

/// {"map": "cavity", "scale": 4} or {"map": "exposure", "direction": [0, 1, 0]}.
nlohmann::json toJson(const MapSetting& setting);
/// The error says what is missing or unknown.
Result<MapSetting> mapSettingFrom(const nlohmann::json& json);
/// The same among other members of an object, which are asked for already.
Result<MapSetting> mapSettingFrom(JsonFields& fields);

}  // namespace juvenor
