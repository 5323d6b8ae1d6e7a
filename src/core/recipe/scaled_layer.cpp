#include "core/recipe/scaled_layer.h"

#include <fmt/format.h>

#include "core/layers/guides.h"

namespace juvenor {

using nlohmann::json;

namespace {

void scale(json& object, std::string_view key, float by) {
  if (object.contains(key) && object[key].is_number()) object[key] = object[key].get<float>() * by;
}

void scaleMaps(json& maps, float by) {
  for (json& term : maps)
    for (const char* key : {"scale", "melt"}) scale(term, key, by);
}

class Scaling {
 public:
  Scaling(float by, const MovePlace& move) : by_(by), move_(move) {}

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
      zone.reach *= by_;
      zone.grain *= by_;
      out.push_back(std::move(zone));
    }
    return out;
  }

  std::vector<SkinStroke> combs(const std::vector<SkinStroke>& all) {
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
      stroke.width *= by_;
      if (found)
        out.push_back(std::move(stroke));
      else
        lost_.emplace_back("no skin for a stroke of the comb");
    }
    return out;
  }

  Guides guides(Guides g) {
    g.direction.form *= by_;
    g.direction.combs = combs(g.direction.combs);
    g.size.size *= by_;
    g.size.smaller = zones(std::move(g.size.smaller));
    for (MaskTerm& term : g.size.maps) {
      term.map.scale *= by_;
      term.melt *= by_;
    }
    g.size.pushed.clear();
    g.soothed.clear();
    g.cells.clear();
    return g;
  }

  std::vector<std::string> takeLost() { return std::move(lost_); }

 private:
  float by_;
  const MovePlace& move_;
  std::vector<std::string> lost_;
};

}  // namespace

Result<ScaledLayer> scaledLayer(const Layer& layer, float by, const MovePlace& move) {
  const SourceKind& kind = layer.source->kind();
  json parameters = layer.source->parameters();
  for (const std::string_view key : kind.lengths) scale(parameters, key, by);
  if (parameters.contains("maps")) scaleMaps(parameters["maps"], by);
  if (parameters.contains("stops"))
    for (json& stop : parameters["stops"]) scale(stop, factsOf(Channel::Relief).key, by);
  // of filters that follow no guides
  if (!layer.source->guides() && parameters.contains("size") && parameters["size"].is_object())
    scale(parameters["size"], "size", by);
  auto source = makeSource(kind.key, parameters, 0);
  if (!source) return source.error();
  Scaling scaling(by, move);
  if (const Guides* guides = (*source)->guides()) *source = (*source)->withGuides(scaling.guides(*guides));
  // most patterns keep their areas with their guides, which were moved already
  const Guides* guides = (*source)->guides();
  const ZoneSet* zones = (*source)->zones();
  if (zones && !(guides && guides->size.smaller == zones->zones)) {
    ZoneSet moved = *zones;
    moved.zones = scaling.zones(std::move(moved.zones));
    *source = (*source)->withZones(std::move(moved));
  }
  Layer out = layer;
  out.source = std::move(*source);
  out.mask.reset();
  for (MaskTerm& term : out.terms) {
    term.map.scale *= by;
    term.melt *= by;
  }
  return ScaledLayer{std::make_shared<Layer>(std::move(out)), scaling.takeLost()};
}

}  // namespace juvenor
