#include "core/layers/scaled_source.h"

#include "core/layers/guides.h"

namespace juvenor {
namespace {

void scale(nlohmann::json& object, std::string_view key, float by) {
  if (object.contains(key) && object[key].is_number()) object[key] = object[key].get<float>() * by;
}

std::vector<HueZone> scaled(std::vector<HueZone> zones, float by) {
  for (HueZone& zone : zones) {
    zone.reach *= by;
    zone.grain *= by;
  }
  return zones;
}

Guides scaled(Guides guides, float by) {
  guides.direction.form *= by;
  guides.size.size *= by;
  guides.size.smaller = scaled(std::move(guides.size.smaller), by);
  guides.size.maps = scaledTerms(std::move(guides.size.maps), by);
  for (auto* strokes : strokesOf(guides))
    for (SkinStroke& stroke : *strokes) stroke.width *= by;
  return guides;
}

// Those that stand plainly among the parameters.
Result<SourcePointer> withPlainLengths(const LayerSource& source, float by) {
  const SourceKind& kind = source.kind();
  nlohmann::json parameters = source.parameters();
  for (const std::string_view key : kind.lengths) scale(parameters, key, by);
  if (parameters.contains("maps"))
    for (nlohmann::json& term : parameters["maps"])
      for (const char* key : {"scale", "melt"}) scale(term, key, by);
  if (parameters.contains("stops"))
    for (nlohmann::json& stop : parameters["stops"]) scale(stop, factsOf(Channel::Relief).key, by);
  if (parameters.contains("balls"))
    for (nlohmann::json& ball : parameters["balls"]) scale(ball, "radius", by);
  // of filters that follow no guides
  if (!source.guides() && parameters.contains("size") && parameters["size"].is_object())
    scale(parameters["size"], "size", by);
  auto out = makeSource(kind.key, parameters, 0);
  if (!out) return out;
  const auto with = (*out)->withPictures([&](uint64_t fingerprint, const std::string& name) {
    for (const PicturePointer& picture : source.pictures())
      if (picture && picture->fingerprint == fingerprint) return Result<PicturePointer>(picture);
    return Result<PicturePointer>(Error{"the picture “" + name + "” is missing"});
  });
  if (!with) return with.error();
  return *with ? *with : *out;
}

}  // namespace

MaskTerms scaledTerms(MaskTerms terms, float by) {
  for (MaskTerm& term : terms) {
    term.map.scale *= by;
    term.melt *= by;
  }
  return terms;
}

MaskSteps scaledSteps(MaskSteps steps, float by) {
  for (MaskStep& step : steps) step.size *= by;
  return steps;
}

Result<SourcePointer> scaledSource(const SourcePointer& source, float by) {
  if (by == 1 || source->fields()) return source;
  auto out = withPlainLengths(*source, by);
  if (!out) return out;
  if (const Guides* guides = (*out)->guides()) *out = (*out)->withGuides(scaled(*guides, by));
  // most patterns keep their areas with their guides, which were scaled already
  const Guides* guides = (*out)->guides();
  const ZoneSet* zones = (*out)->zones();
  if (!zones || (guides && guides->size.smaller == zones->zones)) return out;
  ZoneSet set = *zones;
  set.zones = scaled(std::move(set.zones), by);
  return (*out)->withZones(std::move(set));
}

}  // namespace juvenor
