// Hue zones: anatomical areas of blood, bone and fat that tint the tone below them. A zone has an anchor on
// the skin and reaches along it, never through the air.
#pragma once

#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/color/srgb.h"
#include "core/members.h"
#include "core/surface/maps/surface_maps.h"
#include "core/surface/sparse_values.h"

namespace juvenor {

/// What a zone does to the colour below: a push toward a hue that keeps lightness, or a plain colour.
struct ZoneTint {
  bool plain = false;
  float hue = 25;                           ///< Oklch degrees the colour is pushed toward
  float chroma = 0.06f;                     ///< Oklch chroma by which it is pushed
  EncodedColor color{0.66f, 0.28f, 0.23f};  ///< when plain

  bool operator==(const ZoneTint&) const = default;
};

struct HueZone {
  std::string name;
  std::string landmark;        ///< key of the landmark it goes with; empty: free
  std::string like;            ///< what skin there is like, of kinds that tell regions apart; else empty
  Vec3 anchor = Vec3::Zero();  ///< scene units
  uint32_t part = kNone;       ///< the anchor is tied to this part; kNone: to the nearest skin
  bool mirrored = true;        ///< a second one on the other side
  std::optional<Vec3> other = std::nullopt;  ///< where that lies when it is not across x = 0
  ZoneTint tint;
  float reach = 10;       ///< scene units along the skin
  float strength = 0.6f;  ///< 0…1 at the anchor
  float softness = 1;     ///< 0 a hard edge … 1 fading from the anchor on
  float breakUp = 0.35f;  ///< 0 a smooth disc … 1 a ragged, mottled patch
  float grain = 6;        ///< scene units: the size of what breaks it up

  bool operator==(const HueZone& o) const;
};

template <>
std::span<const Member<HueZone>> membersOf();

/// Where the second one of a mirrored zone lies; none when there is none, or it is the first.
std::optional<Vec3> secondAnchor(const HueZone& zone);

struct ZoneSet {
  std::vector<HueZone> zones;
  float melt = 0;  ///< scene units by which all of them flow along the skin

  bool operator==(const ZoneSet&) const = default;
};

/// How strongly a zone works (0…1, its strength aside) at the samples it reaches.
using ZoneInfluence = SparseValues;
using ZoneInfluencePointer = std::shared_ptr<const ZoneInfluence>;

/// Depends on the anchor, mirror, reach, softness, break-up and melt alone; remembered by `maps`.
ZoneInfluencePointer influenceOf(SurfaceMaps& maps, const HueZone& zone, float melt);

nlohmann::json toJson(const ZoneSet& zones);
/// A list of zones as growth keys hold them: what they are called changes nothing that grows.
nlohmann::json withoutNames(nlohmann::json zones);
/// The error names the zone that is wrong.
Result<ZoneSet> zoneSetFrom(const nlohmann::json& json);

}  // namespace juvenor
