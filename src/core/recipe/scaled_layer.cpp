#include "core/recipe/scaled_layer.h"

#include <fmt/format.h>

#include "core/layers/guides.h"
#include "core/layers/scaled_source.h"
#include "core/layers/sources/eyes.h"

namespace juvenor {

namespace {

class Moving {
 public:
  explicit Moving(const MovePlace& move) : move_(move) {}

  // Those that find no place are gone.
  std::vector<HueZone> zones(std::vector<HueZone> all) {
    std::vector<HueZone> out;
    for (HueZone& zone : all) {
      const auto moved = move_(zone.anchor, zone.landmark);
      if (!moved) {
        lost_.push_back(zone.landmark.empty()
                            ? fmt::format("no skin for the area “{}”", zone.name)
                            : fmt::format("no landmark “{}” for the area “{}”", zone.landmark, zone.name));
        continue;
      }
      zone.anchor = moved->place;
      if (zone.part != kNone) zone.part = moved->part;
      out.push_back(std::move(zone));
    }
    return out;
  }

  // `called` when there is no skin for one.
  std::vector<SkinStroke> strokes(const std::vector<SkinStroke>& all, const char* called) {
    std::vector<SkinStroke> out;
    for (SkinStroke stroke : all) {
      bool found = true;
      for (size_t i = 0; i < stroke.places.size() && found; ++i) {
        const auto moved = move_(stroke.places[i], {});
        found = moved.has_value();
        if (!found) break;
        stroke.places[i] = moved->place;
        if (i == 0) stroke.part = moved->part;
      }
      if (found)
        out.push_back(std::move(stroke));
      else
        lost_.push_back(fmt::format("no skin for {}", called));
    }
    return out;
  }

  Guides guides(Guides g) {
    g.direction.combs = strokes(g.direction.combs, "a stroke of the comb");
    g.edges = strokes(g.edges, "an edge hair stands along");
    g.size.smaller = zones(std::move(g.size.smaller));
    g.size.pushed.clear();
    g.soothed.clear();
    g.cells.clear();
    return g;
  }

  std::vector<std::string> takeLost() { return std::move(lost_); }

 private:
  const MovePlace& move_;
  std::vector<std::string> lost_;
};

}  // namespace

Result<ScaledLayer> scaledLayer(const Layer& layer, float by, const MovePlace& move) {
  auto source = scaledSource(layer.source, by);
  if (!source) return source.error();
  Moving moving(move);
  std::vector<std::string> lost;
  if (const Eyes* eyes = eyesOf(**source); eyes && !eyes->balls.empty()) {
    // whose balls are where nobody knows
    Eyes anywhere = *eyes;
    anywhere.balls.clear();
    *source = eyeSource(std::move(anywhere));
    lost.push_back(fmt::format("no eyeballs for “{}”: press on them to set the eyes", layer.name));
  }
  if (const Guides* guides = (*source)->guides()) *source = (*source)->withGuides(moving.guides(*guides));
  // most patterns keep their areas with their guides, which were moved already
  const Guides* guides = (*source)->guides();
  const ZoneSet* zones = (*source)->zones();
  if (zones && !(guides && guides->size.smaller == zones->zones)) {
    ZoneSet moved = *zones;
    moved.zones = moving.zones(std::move(moved.zones));
    *source = (*source)->withZones(std::move(moved));
  }
  Layer out = layer;
  out.source = std::move(*source);
  out.mask.reset();
  out.terms = scaledTerms(std::move(out.terms), by);
  out.steps = scaledSteps(std::move(out.steps), by);
  for (std::string& one : moving.takeLost()) lost.push_back(std::move(one));
  return ScaledLayer{std::make_shared<Layer>(std::move(out)), std::move(lost)};
}

}  // namespace juvenor
