#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/document/edits/edits.h"
#include "core/document/edits/seated_zones.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/zones.h"

namespace juvenor {
namespace {

const Landmark* placed(const Document& document, std::string_view key) {
  const auto found = std::ranges::find(document.landmarks, key, &Landmark::key);
  return found == document.landmarks.end() ? nullptr : &*found;
}

// A zone of a face; reach and grain as parts of the head's height.
struct UsualZone {
  const char *landmark, *name;
  float hue, chroma, reach, strength, breakUp, grain;
};
// Hues in Oklch degrees. Where red, yellow, blue-grey and purple go is common practice; how far and how much
// are this program's own.
constexpr UsualZone kUsual[] = {
    {"crown", "Skull bone", 85, 0.036f, 0.50f, 0.75f, 0.25f, 0.060f},
    {"brow", "Brow bone", 80, 0.034f, 0.24f, 0.70f, 0.35f, 0.040f},
    {"temple", "Temple", 300, 0.018f, 0.13f, 0.45f, 0.40f, 0.030f},
    {"lid", "Lid", 50, 0.050f, 0.085f, 0.75f, 0.30f, 0.018f},
    {"under-eye", "Under the eye", 335, 0.035f, 0.085f, 0.65f, 0.35f, 0.018f},
    {"ear", "Ear", 26, 0.060f, 0.26f, 0.80f, 0.40f, 0.025f},
    {"cheekbone", "Cheek", 26, 0.062f, 0.27f, 0.80f, 0.55f, 0.026f},
    {"nose", "Nose tip", 25, 0.060f, 0.135f, 0.80f, 0.45f, 0.016f},
    {"lip", "Lips", 16, 0.058f, 0.125f, 0.85f, 0.25f, 0.012f},
    {"lip-corner", "Mouth's corner", 235, 0.030f, 0.085f, 0.60f, 0.40f, 0.018f},
    {"jaw", "Jaw", 245, 0.036f, 0.28f, 0.80f, 0.40f, 0.020f},
    {"chin", "Chin", 240, 0.034f, 0.17f, 0.70f, 0.40f, 0.020f},
};

}  // namespace

float headHeightOf(const Document& document) {
  const Landmark *crown = placed(document, "crown"), *chin = placed(document, "chin");
  if (crown && chin) return (crown->position - chin->position).norm();
  float best = 0, apart = 0;
  for (const Landmark& a : document.landmarks)
    for (const Landmark& b : document.landmarks) {
      const LandmarkFacts *f = landmarkFacts(a.key), *g = landmarkFacts(b.key);
      if (!f || !g || std::abs(f->y - g->y) <= apart) continue;
      apart = std::abs(f->y - g->y);
      best = std::abs(a.position.y() - b.position.y()) / apart;
    }
  return apart > 0.05f ? best : 0.6f * document.surface->bounds.diagonal();
}

Result<Document> withLandmark(const Document& document, std::string_view key, const Vec3& position) {
  const LandmarkFacts* facts = landmarkFacts(key);
  if (!facts) return Error{fmt::format("there is no landmark '{}'", key)};
  Document out = document;
  const auto found = std::ranges::find(out.landmarks, key, &Landmark::key);
  if (found == out.landmarks.end())
    out.landmarks.push_back({std::string(key), position});
  else
    found->position = position;
  for (LayerPointer& pointer : out.layers) {
    const ZoneSet* zones = pointer->source->zones();
    if (!zones) continue;
    ZoneSet moved = *zones;
    for (HueZone& zone : moved.zones)
      if (zone.landmark == key) zone.anchor = position;
    if (moved == *zones) continue;
    Layer layer = *pointer;
    layer.source = pointer->source->withZones(seated(document, std::move(moved)));
    pointer = std::make_shared<Layer>(std::move(layer));
  }
  return out;
}

Result<ZoneSet> usualZones(const Document& document) {
  if (document.landmarks.empty()) return Error{"place landmarks first; the zones are laid out from them"};
  const float height = headHeightOf(document);
  ZoneSet out;
  for (const UsualZone& u : kUsual) {
    const Landmark* landmark = placed(document, u.landmark);
    if (!landmark) continue;
    HueZone zone;
    zone.name = u.name;
    zone.landmark = u.landmark;
    zone.anchor = landmark->position;
    zone.mirrored = landmarkFacts(u.landmark)->paired;
    zone.tint.hue = u.hue;
    zone.tint.chroma = u.chroma;
    zone.reach = u.reach * height;
    zone.strength = u.strength;
    zone.breakUp = u.breakUp;
    zone.grain = u.grain * height;
    out.zones.push_back(std::move(zone));
  }
  return seated(document, std::move(out));
}

Result<Document> withUsualZones(const Document& document) {
  auto zones = usualZones(document);
  if (!zones) return zones.error();
  return withSourceLayer(document, "Hue zones", Stratum::Flesh, zoneSource(std::move(*zones)));
}

Result<Document> withZones(const Document& document, uint32_t id, ZoneSet zones) {
  const LayerPointer layer = layerOf(document, id);
  if (!layer || !layer->source->zones()) return Error{"only layers that have areas can be given others"};
  return withSource(document, id, layer->source->withZones(std::move(zones)));
}

}  // namespace juvenor
