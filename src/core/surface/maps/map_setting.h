// Which surface map, and how it is measured: what a mask or a colour ramp names, and what the cache goes by.
#pragma once

#include <nlohmann/json.hpp>
#include <span>
#include <string_view>
#include <vector>

#include "core/json_fields.h"
#include "core/progress.h"

namespace juvenor {

class SurfaceMaps;
struct MapSetting;

/// A measure: one value a sample.
using Measure = Result<std::vector<float>>;

/// What a person and a file need to know of a kind of map, and how it is measured. A new kind is one file
/// beside this one and one line in registry.cpp.
struct MapKind {
  std::string_view key;    ///< in files: "cavity"
  std::string_view label;  ///< in the window: "Cavity"
  std::string_view shows;  ///< what 1 means
  bool hasScale, hasDirection;
  float usualScale;  ///< as a part of the diagonal of the surface's bounds
  bool fewRays;      ///< its noise is melted over neighbouring samples
  /// What is 0…1 in the map; what lies beyond is cut.
  Measure (*measure)(SurfaceMaps& maps, const MapSetting& setting, const Progress& progress);
  bool hasSeed = false;  ///< made up, not measured
};
extern const MapKind kCavityMap, kRidgeMap, kOcclusionMap, kThicknessMap, kExposureMap, kElevationMap,
    kFacingMap, kCloudMap, kCellsMap, kRidgedMap, kDoubtMap;

/// All kinds, in the order they are offered in.
std::span<const MapKind* const> mapKinds();
/// The kind of that key, or null.
const MapKind* mapKind(std::string_view key);

struct MapSetting {
  const MapKind* kind = &kCavityMap;
  /// Scene units. Cavity and ridge: the size of the forms that count. Occlusion: how far away a blocker may
  /// be, 0 for any distance. Thickness: what counts as fully thick. Noise: the size of its largest features.
  float scale = 0;
  /// Unit vector. Exposure: where the sky is. Elevation: what counts as up. Facing: what is faced.
  Vec3 direction = Vec3::UnitY();
  uint32_t seed = 1;  ///< of noise: another one, another pattern

  bool operator==(const MapSetting& o) const {
    return kind == o.kind && scale == o.scale && direction == o.direction && seed == o.seed;
  }
};

/// A setting with the usual scale for a surface of this size.
MapSetting usualMap(const MapKind* kind, float diagonal);

/// {"map": "cavity", "scale": 4} or {"map": "exposure", "direction": [0, 1, 0]}.
nlohmann::json toJson(const MapSetting& setting);
/// The error says what is missing or unknown.
Result<MapSetting> mapSettingFrom(const nlohmann::json& json);
/// The same among other members of an object, which are asked for already.
Result<MapSetting> mapSettingFrom(JsonFields& fields);

}  // namespace juvenor
